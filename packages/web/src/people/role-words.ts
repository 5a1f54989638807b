import type { Role } from '@tonos/contract';

/** What each role may, as it is told where one is chosen. */
export const ROLE_WORDS: Readonly<Record<Role, string>> = {
  listener: 'looks, listens, writes notes, downloads what is delivered',
  engineer: 'works on titles, recordings, runs and their own drafts',
  lead: 'approves, archives, closes titles',
  owner: 'everything, people and storage too',
};

export const roleChoices = (roles: readonly Role[]) =>
  roles.map((role) => ({ value: role, label: `${role}: ${ROLE_WORDS[role]}` }));
