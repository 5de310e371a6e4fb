import type { Level } from "@/core/people/roles";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";

/**
 * Shares an object with a person or everyone (""), or takes that back, and writes it down.
 * @param level null: not any more
 * @throws Refusal 403 where the one who asks may not share it, 404 where the account is gone
 */
export function share(ws: Workspace, object: SavedObject, person: string, level: Level | null): void {
  if (!ws.objects.mayShare(object)) throw new Refusal(403, `Only its author or an owner can share “${object.name}”.`);
  const whom = person === "" ? "everyone" : ws.people.get(person)?.name;
  if (whom === undefined) throw new Refusal(404, "That account does not exist any more.");
  ws.people.share(object.id, person, level);
  ws.record(level === null ? "stopped sharing" : "shared", `${object.name} with ${whom}${level ? `, to ${level}` : ""}`);
}
