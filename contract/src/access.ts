import { z } from 'zod';
import { Id, none, Ok } from './common.ts';
import { route } from './route.ts';

export const RoleName = z.enum(['steward', 'member', 'guest']);

export const MemberInfo = z.strictObject({
  id: Id,
  name: z.string(),
  signIn: z.string(),
  role: RoleName,
  club: z.string(),
});
export type MemberInfo = z.infer<typeof MemberInfo>;

export const SessionInfo = z.strictObject({
  member: MemberInfo.nullable(),
  csrfToken: z.string(),
  /** True while the database holds no account: the first person sets the club up. */
  needsSetup: z.boolean(),
  /** Accounts of the demo club, shown on the sign-in page only where it was loaded. */
  demo: z.array(z.strictObject({ name: z.string(), signIn: z.string(), role: RoleName })).nullable(),
});
export type SessionInfo = z.infer<typeof SessionInfo>;

const signIn = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9._-]{2,60}$/, 'letters, digits, dot and hyphen only, 2 to 60 of them');
const password = z.string().min(8, 'at least 8 characters').max(200);

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
    body: z.strictObject({ signIn: z.string().trim().toLowerCase().max(200), password: z.string().max(200) }),
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
  setup: route({
    method: 'post',
    path: '/api/setup',
    summary: 'Found the club and its first steward, while there is no account at all',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: z.strictObject({
      club: z.string().trim().min(1).max(120),
      name: z.string().trim().min(1).max(120),
      signIn,
      password,
    }),
    response: SessionInfo,
  }),
  members: route({
    method: 'get',
    path: '/api/members',
    summary: 'Members of the club',
    area: 'Access',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.array(MemberInfo),
  }),
  addMember: route({
    method: 'post',
    path: '/api/members',
    summary: 'Add a member',
    area: 'Access',
    role: 'steward',
    params: none,
    query: none,
    body: z.strictObject({ name: z.string().trim().min(1).max(120), signIn, password, role: RoleName }),
    response: MemberInfo,
  }),
};
