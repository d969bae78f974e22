export { hashPassword, passwordMatches } from './passwords.ts';
export { sessions, csrfToken, demandToken, currentMember, demandRole, clearCookies } from './sessions.ts';
export { signInTries } from './signInTries.ts';
export { isLocal } from './local.ts';
export { DEMO_PASSWORD } from './passwords.ts';
