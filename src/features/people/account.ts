import type { Role } from "@/core/people/roles";

export type Account = { id: string; login: string; name: string; role: Role; knownAs: string; blocked: boolean };
