import type { SecurityEvent, SecurityKind } from '@keen/contract';

type Words = (e: SecurityEvent) => string;
const byWhom = (e: SecurityEvent) => (e.by ? ` by ${e.by}` : '');

/** What happened, in words; whom it concerns stands beside it. */
const WORDS: Record<SecurityKind, Words> = {
  signed_in: () => 'signed in',
  wrong_password: (e) => (e.person ? 'wrong password' : 'sign-in under a name nobody has'),
  wrong_code: () => 'right password, wrong code',
  too_many: () => 'too many failed tries: turned away for a quarter of an hour',
  refused: (e) => `refused: ${e.detail}`,
  bad_invitation: () => 'an invitation that does not hold',
  password_changed: () => 'changed their password',
  password_given: (e) => `was given a new password${byWhom(e)}`,
  role_changed: (e) => `role ${e.detail}${byWhom(e)}`,
  ended: (e) => `membership ended${byWhom(e)}`,
  added: (e) => `added as ${e.detail}${byWhom(e)}`,
  invited: (e) => `somebody invited as ${e.detail}${byWhom(e)}`,
  invitation_withdrawn: (e) => `an invitation withdrawn${byWhom(e)}`,
  joined: (e) => `joined as ${e.detail}, invited${byWhom(e)}`,
  sessions_ended: () => 'signed out other browsers of theirs',
  factor_on: () => 'second factor on',
  factor_off: (e) => `second factor off${byWhom(e)}`,
  recovery_code_used: () => 'signed in with a recovery code',
};
export const securityWords: Words = (e) => WORDS[e.kind](e);

/** What a steward should look at: guesses that came close or came often, and what weakens an account. */
export const wantsAttention = (e: SecurityEvent): boolean =>
  ['too_many', 'wrong_code', 'recovery_code_used', 'factor_off'].includes(e.kind) ||
  (['wrong_password', 'bad_invitation', 'refused'].includes(e.kind) && e.count >= 5);
