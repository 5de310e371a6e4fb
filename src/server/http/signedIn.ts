import { headers } from "next/headers";
import { redirect } from "next/navigation";
import type { Role } from "@/core/people/roles";
import { workspace } from "@/server/services/workspace/here";
import type { Workspace } from "@/server/services/workspace/workspace";
import { personOf } from "./session";

/** The ledger as the one who looks at a page has it, with types from a sample until all values have been looked at; who is not signed in is sent to do so, who may not to what they may. */
export async function signedInWorkspace(needed: Role = "viewer"): Promise<Workspace> {
  const house = workspace();
  const person = personOf(house, await headers());
  if (!person) {
    if (house.people.any()) redirect("/sign-in");
    return house.early();
  }
  const may = needed === "viewer" || person.role === "owner" || (needed === "analyst" && person.role === "analyst");
  if (!may) redirect("/dashboards");
  return house.as(person).early();
}
