import type { Role } from '@keen/contract';

/** Who may do what others may. */
export const RANK: Record<Role, number> = { guest: 0, member: 1, steward: 2 };
