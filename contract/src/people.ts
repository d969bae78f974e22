import { z } from 'zod';
import { MemberInfo, NewPassword, RoleName, SessionInfo, SignInName } from './access.ts';
import { byId, Id, Instant, none, Ok } from './common.ts';
import { route } from './route.ts';

const PersonName = z.string().trim().min(1, 'must not be empty').max(120);
/** What an invitation's link carries; only its hash is kept. */
const Token = z.string().regex(/^[\w-]{32}$/, 'is no invitation; copy the whole link');

/** A browser in which somebody is signed in. */
export const OwnSession = z.strictObject({
  id: z.string(),
  here: z.boolean(),
  device: z.enum(['phone', 'computer', 'unknown']),
  address: z.string(),
  begunAt: Instant.nullable(),
  /** To the hour. */
  seenAt: Instant.nullable(),
});
export type OwnSession = z.infer<typeof OwnSession>;

export const Invitation = z.strictObject({
  id: Id,
  name: z.string(),
  role: RoleName,
  by: z.string(),
  expiresAt: Instant,
});
export type Invitation = z.infer<typeof Invitation>;

/** What the security log tells apart; words are made on the screen. */
export const SecurityKind = z.enum([
  'signed_in',
  'wrong_password',
  'wrong_code',
  'too_many',
  'refused',
  'bad_invitation',
  'password_changed',
  'password_given',
  'role_changed',
  'ended',
  'added',
  'invited',
  'invitation_withdrawn',
  'joined',
  'sessions_ended',
  'factor_on',
  'factor_off',
  'recovery_code_used',
]);
export type SecurityKind = z.infer<typeof SecurityKind>;
export const SecurityEvent = z.strictObject({
  id: Id,
  kind: SecurityKind,
  at: Instant,
  /** How often within the quarter of an hour that followed. */
  count: z.int().min(1),
  /** Whom it concerns; empty for a name nobody has. */
  person: z.string(),
  /** Who did it, where that is somebody else. */
  by: z.string(),
  address: z.string(),
  detail: z.string(),
});
export type SecurityEvent = z.infer<typeof SecurityEvent>;

/** From the second factor's device, or a recovery code; where the account has one. */
const Code = z.string().trim().max(40);

export const peopleRoutes = {
  prove: route({
    method: 'put',
    path: '/api/session/proof',
    summary: 'Give one’s own password, and the code of a second factor, again: what hands out rights asks for it',
    area: 'Access',
    role: 'watcher',
    params: none,
    query: none,
    body: z.strictObject({ password: z.string().max(200), code: Code.optional() }),
    response: Ok,
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
    body: z.strictObject({ name: PersonName, signIn: SignInName, password: NewPassword, role: RoleName }),
    response: MemberInfo,
  }),
  changePassword: route({
    method: 'put',
    path: '/api/session/password',
    summary: 'Change one’s own password; every other session of one’s own ends',
    area: 'Access',
    role: 'watcher',
    params: none,
    query: none,
    body: z.strictObject({ current: z.string().max(200), next: NewPassword, code: Code.optional() }),
    response: Ok,
  }),
  changeMember: route({
    method: 'put',
    path: '/api/members/:id',
    summary: 'Give a member another role or a new password, or end the membership; their sessions end',
    area: 'Access',
    role: 'steward',
    params: byId,
    query: none,
    body: z.strictObject({
      role: RoleName.optional(),
      password: NewPassword.optional(),
      ended: z.literal(true).optional(),
      /** With the end of a membership: their name leaves the club’s records too, which stay. */
      withoutName: z.literal(true).optional(),
      /** Takes the second factor away from somebody who lost the device. */
      withoutSecondFactor: z.literal(true).optional(),
    }),
    response: MemberInfo,
  }),
  invite: route({
    method: 'post',
    toldOnce: true,
    path: '/api/invitations',
    summary: 'Invite somebody: a link that works once and for a week; it is told this one time only',
    area: 'Access',
    role: 'steward',
    params: none,
    query: none,
    body: z.strictObject({ name: z.string().trim().max(120).default(''), role: RoleName }),
    response: z.strictObject({ invitation: Invitation, token: Token }),
  }),
  invitations: route({
    method: 'get',
    path: '/api/invitations',
    summary: 'Invitations that still wait',
    area: 'Access',
    role: 'steward',
    params: none,
    query: none,
    body: none,
    response: z.array(Invitation),
  }),
  withdrawInvitation: route({
    method: 'delete',
    path: '/api/invitations/:id',
    summary: 'Withdraw an invitation',
    area: 'Access',
    role: 'steward',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  lookAtInvitation: route({
    method: 'post',
    path: '/api/join/look',
    summary: 'Who invites, and to what',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: z.strictObject({ token: Token }),
    response: z.strictObject({
      club: z.string(),
      name: z.string(),
      role: RoleName,
      by: z.string(),
      expiresAt: Instant,
    }),
  }),
  join: route({
    method: 'post',
    path: '/api/join',
    summary: 'Accept an invitation with a name and a password of one’s own',
    area: 'Access',
    role: null,
    params: none,
    query: none,
    body: z.strictObject({ token: Token, name: PersonName, signIn: SignInName, password: NewPassword }),
    response: SessionInfo,
  }),
  ownSessions: route({
    method: 'get',
    path: '/api/session/all',
    summary: 'Where one is signed in',
    area: 'Access',
    role: 'watcher',
    params: none,
    query: none,
    body: none,
    response: z.array(OwnSession),
  }),
  endSession: route({
    method: 'delete',
    path: '/api/session/all/:id',
    summary: 'Sign out another browser of one’s own; “others” for all but this one',
    area: 'Access',
    role: 'watcher',
    params: z.strictObject({ id: z.union([z.guid(), z.literal('others')], 'is no session of the list') }),
    query: none,
    body: none,
    response: Ok,
  }),
  prepareSecondFactor: route({
    method: 'post',
    toldOnce: true,
    path: '/api/session/second-factor',
    summary: 'Begin a second factor: the key for the device, not yet in force',
    area: 'Access',
    role: 'steward',
    params: none,
    query: none,
    body: z.strictObject({ password: z.string().max(200) }),
    response: z.strictObject({ key: z.string(), uri: z.string() }),
  }),
  confirmSecondFactor: route({
    method: 'put',
    path: '/api/session/second-factor',
    summary: 'Put the second factor in force with a first code; answers the recovery codes, this one time',
    area: 'Access',
    role: 'steward',
    params: none,
    query: none,
    body: z.strictObject({ code: Code }),
    response: z.strictObject({ recoveryCodes: z.array(z.string()) }),
  }),
  dropSecondFactor: route({
    method: 'post',
    path: '/api/session/second-factor/off',
    summary: 'Sign in by password alone again',
    area: 'Access',
    role: 'watcher',
    params: none,
    query: none,
    body: z.strictObject({ password: z.string().max(200), code: Code.optional() }),
    response: Ok,
  }),
  securityLog: route({
    method: 'get',
    path: '/api/security',
    summary: 'Sign-ins that failed, refusals and changes of people, newest first',
    area: 'Access',
    role: 'steward',
    params: none,
    query: z.strictObject({ before: Instant.optional() }),
    body: none,
    response: z.strictObject({ events: z.array(SecurityEvent), more: z.boolean() }),
  }),
};
