export { hashPassword, passwordMatches } from './passwords.ts';
export { sessions, csrfToken, demandToken, currentMember, demandRole, COOKIE } from './sessions.ts';
export { isLocal } from './local.ts';
export { DEMO_PASSWORD } from './passwords.ts';
