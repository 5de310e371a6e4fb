import type { Role } from "./roles";

/** What an account may do. What is named nowhere here is denied. */
export type Ability =
  /** See what is shared with it. */
  | "look"
  /** Describe queries and what is made from them, and have them worked out before they are saved. */
  | "build"
  /** Keep accounts, rules and settings. */
  | "keep";

const ABILITIES: Record<Role, readonly Ability[]> = {
  viewer: ["look"],
  analyst: ["look", "build"],
  owner: ["look", "build", "keep"],
};

/** Whether a role has an ability; a role that is not known has none. */
export const can = (role: string, ability: Ability): boolean => (Object.hasOwn(ABILITIES, role) ? ABILITIES[role as Role].includes(ability) : false);
