/** What an account may do. An owner also keeps the accounts; a viewer sees what is shared with them. */
export const ROLES = ["owner", "analyst", "viewer"] as const;

export type Role = (typeof ROLES)[number];

export const ROLE_WORDS: Record<Role, string> = {
  owner: "manages accounts and rules, sees everything",
  analyst: "queries, builds and posts; sees their own and shared objects",
  viewer: "sees what is shared with them, with their own filters",
};

export const LEVELS = ["see", "edit"] as const;

/** What a share allows: to look and have it made, or to change it too. */
export type Level = (typeof LEVELS)[number];
