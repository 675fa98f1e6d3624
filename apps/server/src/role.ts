/** What a process does: all of it on one machine, or one part beside other processes. */
export const ROLES = ['all', 'api', 'worker'] as const;
export type Role = (typeof ROLES)[number];
