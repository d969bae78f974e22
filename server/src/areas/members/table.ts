import type { RoleName as RoleSchema, SecurityKind } from '@keen/contract';
import type { z } from 'zod';

import { text, when, whole } from '../../database/columns.ts';
import type { Define } from '../../database/define.ts';

export interface ClubRow {
  id: string;
  name: string;
  kind: 'alone' | 'club' | 'remote';
  demo: number;
}

type RoleName = z.infer<typeof RoleSchema>;

export interface MemberRow {
  id: string;
  clubId: string;
  name: string;
  signIn: string;
  role: RoleName;
  passwordHash: string;
  /** Set this installation up. */
  owner: number;
  /** Key of the second factor, sealed; null without one. */
  factorKey: string | null;
  /** The last half minute whose code was used: no code is taken twice. */
  factorStep: number;
  /** Grows with every reset: a session of an earlier epoch is over. */
  sessionEpoch: number;
  archivedAt: Date | null;
}

export interface InvitationRow {
  id: string;
  clubId: string;
  /** Hash of what the link carries. */
  token: string;
  name: string;
  role: MemberRow['role'];
  byId: string;
  expiresAt: Date;
  usedAt: Date | null;
}

export interface SecurityEventRow {
  id: string;
  clubId: string | null;
  subject: string;
  kind: SecurityKind;
  at: Date;
  times: number;
  memberId: string | null;
  byId: string | null;
  address: string;
  detail: string;
}

/** The tables of this area; the schema itself is made by migrations only. */
export const membersTables = (table: Define) => ({
  clubs: table<ClubRow>('clubs', { name: text, kind: text, demo: whole }),
  members: table<MemberRow>('members', {
    clubId: text,
    name: text,
    signIn: text,
    role: text,
    passwordHash: text,
    owner: whole,
    factorKey: text,
    factorStep: whole,
    sessionEpoch: whole,
    archivedAt: when,
  }),
  invitations: table<InvitationRow>('invitations', {
    clubId: text,
    token: text,
    name: text,
    role: text,
    byId: text,
    expiresAt: when,
    usedAt: when,
  }),
  securityEvents: table<SecurityEventRow>('security_events', {
    clubId: text,
    subject: text,
    kind: text,
    at: when,
    times: whole,
    memberId: text,
    byId: text,
    address: text,
    detail: text,
  }),
});
