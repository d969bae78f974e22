import { z } from 'zod';
import { ClubSettings } from './clubSettings.ts';
import { Id, none, Ok } from './common.ts';
import { route } from './route.ts';

/** A guest looks at everything, a watcher at runs alone. */
export const RoleName = z.enum(['steward', 'member', 'guest', 'watcher']);

/** A person alone, a club, or a site nobody is at. */
export const ClubKind = z.enum(['alone', 'club', 'remote']);
export type ClubKind = z.infer<typeof ClubKind>;

export const MemberInfo = z.strictObject({
  id: Id,
  name: z.string(),
  signIn: z.string(),
  role: RoleName,
  club: z.string(),
  clubKind: ClubKind,
  /** Of the demo club. */
  demo: z.boolean(),
  /** Set this installation up. */
  owner: z.boolean(),
  /** Signs in with a code from a device beside the password. */
  secondFactor: z.boolean(),
});
export type MemberInfo = z.infer<typeof MemberInfo>;

export const SessionInfo = z.strictObject({
  member: MemberInfo.nullable(),
  csrfToken: z.string(),
  /** The door “begin with your own equipment” is open: at this machine always, beyond it to the very first person. */
  mayBegin: z.boolean(),
  /** The page is looked at on the machine the server runs on. */
  local: z.boolean(),
  mayRestoreDemo: z.boolean(),
  /** What the club of whoever is signed in begins with. */
  settings: ClubSettings.nullable(),
  /** Accounts of the demo club, shown on the sign-in page only where it was loaded. */
  demo: z.array(z.strictObject({ name: z.string(), signIn: z.string(), role: RoleName })).nullable(),
});
export type SessionInfo = z.infer<typeof SessionInfo>;

export const SignInName = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9._-]{2,60}$/, 'letters, digits, dot and hyphen only, 2 to 60 of them');
/** Shortest password; length is worth more than odd characters. */
export const LEAST_PASSWORD = 10;
export const NewPassword = z.string().min(LEAST_PASSWORD, `at least ${LEAST_PASSWORD} characters`).max(200);

export const sessionRoutes = {
  session: route({
    method: 'get',
    path: '/api/session',
    summary: 'Who is signed in, and the token that changes must carry',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: none,
    response: SessionInfo,
  }),
  signIn: route({
    method: 'post',
    path: '/api/session',
    summary: 'Sign in',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: z.strictObject({
      signIn: SignInName,
      password: z.string().max(200),
      /** From the second factor's device, or a recovery code; asked for with `code_needed`. */
      code: z.string().trim().max(40).optional(),
    }),
    response: SessionInfo,
  }),
  signOut: route({
    method: 'delete',
    path: '/api/session',
    summary: 'Sign out',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: none,
    response: Ok,
  }),
  enterDemo: route({
    method: 'post',
    path: '/api/session/demo',
    summary: 'Enter the demo club as one of its people; on the machine itself only',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: z.strictObject({ signIn: SignInName }),
    response: SessionInfo,
  }),
  begin: route({
    method: 'post',
    path: '/api/begin',
    summary: 'Begin with one’s own equipment: alone, as a club’s first steward, or for a remote site',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: z.strictObject({
      kind: ClubKind,
      /** Name of the club or site; may be empty for a person alone. */
      place: z.string().trim().max(120).default(''),
      name: z.string().trim().min(1, 'must not be empty').max(100),
      signIn: SignInName,
      password: NewPassword,
    }),
    response: SessionInfo,
  }),
  restoreDemo: route({
    method: 'post',
    path: '/api/demo',
    summary: 'Bring the demo club back',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: none,
    response: SessionInfo,
  }),
  removeDemo: route({
    method: 'delete',
    path: '/api/demo',
    summary: 'Take the demo club away with everything in it',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: none,
    response: SessionInfo,
  }),
};
