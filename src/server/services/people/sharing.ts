import type { Level } from "@/core/people/roles";

/** With whom an object is shared; "" is everyone. */
export type Sharing = {
  accounts: boolean;
  mayShare: boolean;
  owner: string | null;
  shares: { person: string; level: Level }[];
  people: { id: string; name: string; role: string }[];
};
