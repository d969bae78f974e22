export { hashPassword, hashQuickly, passwordMatches, DEMO_PASSWORD } from './passwords.ts';
export { demandUncommon } from './commonPasswords.ts';
export {
  addressOf,
  beginSession,
  sessions,
  csrfToken,
  demandToken,
  currentMember,
  demandRole,
  demandProof,
  clearCookies,
} from './sessions.ts';
export { secondFactor } from './secondFactor.ts';
export { securityLog, type SecurityNote } from './securityLog.ts';
export { sharedHits, sharedPlaces } from './sharedCounts.ts';
export { countedTries, signInTries } from './signInTries.ts';
export { demandKnownName, demoStands, isLocal } from './local.ts';
