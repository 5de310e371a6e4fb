import type { Person } from "@/server/catalogue/people";
import type { Workspace } from "@/server/services/workspace/workspace";

const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/** The demo's invented people, who are let in by a click; nobody where this is no demo, or is reached from elsewhere. */
export function demoPeople(house: Workspace, headers: Headers): Pick<Person, "id" | "name" | "role">[] {
  // What others can reach lets nobody in without a password, whatever name it is asked under.
  if (process.env.NEXT_LEDGER_HOSTS) return [];
  if (house.catalogue.setting("demo") !== true || !LOOPBACK.test(headers.get("host") ?? "")) return [];
  const order = { owner: 0, analyst: 1, viewer: 2 };
  return house.people
    .list()
    .filter((p) => p.id.startsWith("demo-") && !p.blocked)
    .sort((a, b) => order[a.role] - order[b.role])
    .map(({ id, name, role }) => ({ id, name, role }));
}
