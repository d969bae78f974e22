import type { Role } from '@keen/contract';

/** Who may do what others may. */
export const RANK: Record<Role, number> = { watcher: 0, guest: 1, member: 2, steward: 3 };
