import { hash, verify } from '@node-rs/argon2';

/** argon2id, 19 MiB, two passes. Parameters: OWASP password storage cheat sheet (from memory). */
const PARAMETERS = { memoryCost: 19 * 1024, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password, PARAMETERS);

/** A hash nobody's password matches, so that an unknown name takes as long as a wrong password. */
let decoy: Promise<string> | null = null;

export async function passwordMatches(stored: string | null, password: string): Promise<boolean> {
  decoy ??= hashPassword('no account has this password');
  const ok = await verify(stored ?? (await decoy), password);
  return stored !== null && ok;
}

/** Password of every demo account; shown on the sign-in page of the demo club only. */
export const DEMO_PASSWORD = 'larkmoor-nights';
