export { hashPassword, passwordMatches } from './passwords.ts';
export { sessions, csrfToken, demandToken, currentMember, demandRole, COOKIE } from './sessions.ts';
