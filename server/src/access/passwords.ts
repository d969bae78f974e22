import { availableParallelism } from 'node:os';
import { hash, verify } from '@node-rs/argon2';

/** argon2id, 19 MiB, two passes. Parameters: OWASP password storage cheat sheet (from memory). */
const PARAMETERS = { memoryCost: 19 * 1024, timeCost: 2, parallelism: 1 };
let parameters: typeof PARAMETERS = PARAMETERS;
/** For tests alone, in which hundreds of passwords are given: what is kept is guessed easily. */
export const hashQuickly = (on = true): void => void (parameters = on ? QUICK : PARAMETERS);
const QUICK = { memoryCost: 64, timeCost: 1, parallelism: 1 };

/** Each keeps a core busy for a while, and one core is for everybody who is signed in: so many at a time, in turn. */
const lanes = Array.from({ length: Math.max(1, availableParallelism() - 1) }, () =>
  Promise.resolve<unknown>(undefined),
);
let turn = 0;
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const lane = turn++ % lanes.length;
  const done = lanes[lane]!.then(work);
  lanes[lane] = done.catch(() => undefined);
  return done;
}

export const hashPassword = (password: string): Promise<string> => inTurn(() => hash(password, parameters));

/** A hash nobody's password matches, so that an unknown name takes as long as a wrong password. */
let decoy: Promise<string> | null = null;

export async function passwordMatches(stored: string | null, password: string): Promise<boolean> {
  decoy ??= hashPassword('no account has this password');
  const against = stored ?? (await decoy);
  const ok = await inTurn(() => verify(against, password));
  return stored !== null && ok;
}

/** Password of every demo account; shown on the sign-in page of the demo club only. */
export const DEMO_PASSWORD = 'larkmoor-nights';
