import { json, type Request, type RequestHandler, type Response } from 'express';
import { Problem } from './problems.ts';

/** Largest request body of a member; focus logs are parsed in the browser and arrive as runs. */
const MEMBER = { limit: '4mb', keys: 400_000 };
/** Of somebody without a session: names, a password, a question. */
const STRANGER = { limit: '100kb', keys: 2_000 };
/** Deeper than this nothing we take is nested. */
const DEEPEST = 60;

const OPEN = new Set([0x5b, 0x7b]);
const CLOSE = new Set([0x5d, 0x7d]);
/** Looks a body through before it is parsed: how deep it is nested and how many members it has cost more than its length. */
export function demandShape(bytes: Buffer, keys: number): void {
  let [depth, members, quoted] = [0, 0, false];
  for (let i = 0; i < bytes.length; i++) {
    const b = bytes[i]!;
    if (quoted) {
      if (b === 0x5c) i++;
      else if (b === 0x22) quoted = false;
    } else if (b === 0x22) quoted = true;
    else if (OPEN.has(b)) {
      if (++depth > DEEPEST) throw new Problem('invalid_input', `the body is nested deeper than ${DEEPEST} times`);
    } else if (CLOSE.has(b)) depth--;
    else if ((b === 0x2c || b === 0x3a) && ++members > keys)
      throw new Problem('too_large', 'the body has too many parts');
  }
  // half a character is no text: it would end in the database
  const text = bytes.toString('latin1');
  if (/\\u[dD][89a-fA-F]/.test(text)) demandWhole(bytes.toString('utf8'));
}
function demandWhole(text: string): void {
  const pairs = text.replace(/\\u[dD][89abAB][0-9a-fA-F]{2}\\u[dD][c-fC-F][0-9a-fA-F]{2}/g, '');
  if (/(?:^|[^\\])(?:\\\\)*\\u[dD][89a-fA-F]/.test(pairs))
    throw new Problem('invalid_input', 'the body holds half a character (a lone surrogate)');
}

/** JSON bodies: what somebody without a session may send is small, and known to be before it is read. */
export function bodies(strangers = STRANGER, members = MEMBER): RequestHandler {
  const reader = ({ limit, keys }: typeof STRANGER) =>
    json({ limit, verify: (_req, _res, bytes) => demandShape(bytes, keys) });
  const [small, large] = [reader(strangers), reader(members)];
  return (req: Request, res, next) => {
    if (req.session.memberId) return large(req, res, next);
    const refuse = () => {
      endAfterAnswer(req, res);
      next(
        new Problem(
          'too_large',
          `without a session a body has ${strangers.limit} at most; if you were signed in your session has ended: sign in again and send it once more`,
        ),
      );
    };
    if (Number(req.headers['content-length'] ?? 0) > bytesOf(strangers.limit)) return refuse();
    small(req, res, (error?: unknown) => {
      if ((error as { status?: number } | undefined)?.status === 413) refuse();
      else next(error);
    });
  };
}
const bytesOf = (limit: string) => Number.parseInt(limit, 10) * (limit.endsWith('mb') ? 1e6 : 1e3);

/** Time in which the refusal is read by whoever still sends [ms]. */
const LINGER_MS = 250;
/** What is refused is not read to its end: the line is closed once the answer is out. */
function endAfterAnswer(req: Request, res: Response): void {
  req.pause();
  res.set('connection', 'close');
  res.once('finish', () => setTimeout(() => req.socket.destroy(), LINGER_MS).unref());
}
