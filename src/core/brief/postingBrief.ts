import type { PostingSpec } from "../posting/spec";
import { findColumn, findTable, type Schema } from "../schema/schema";
import { counted, type Locale } from "../types/format";
import type { Phrase } from "./brief";

const ACTIONS: Record<PostingSpec["action"], string> = { add: "Add", change: "Change", remove: "Remove" };
const PRESENT: Record<PostingSpec["present"], string> = { leave: "left unchanged", change: "updated", add: "added anyway" };

/** The brief of a posting; a phrase's name says which part of the description it edits. */
export function postingBrief(spec: PostingSpec, schema: Schema, sourceName: string): Phrase[] {
  const control = (name: string, text: string): Phrase => ({ text, target: { kind: "field", name } });
  const table = findTable(schema, spec.target);
  const target = control("target", table?.label ?? `a missing table (${spec.target})`);
  const same = control("same", spec.same.map((c) => (table && findColumn(table, c)?.label) ?? c).join(" and ") || "…");
  const source = control("source", sourceName);
  const action = control("action", ACTIONS[spec.action]);
  const end = { text: "." };
  switch (spec.action) {
    case "add": {
      const opening = [action, { text: " the rows of " }, source, { text: " to " }, target];
      if (spec.present === "add" && spec.same.length === 0) return [...opening, { text: ", " }, control("present", "each as a new row"), end];
      return [...opening, { text: ". Match rows by " }, same, { text: "; existing rows are " }, control("present", PRESENT[spec.present]), end];
    }
    case "change":
      return [action, { text: " rows of " }, target, { text: " from " }, source, { text: ", matched by " }, same, end];
    case "remove":
      return [
        action,
        { text: " the rows of " },
        target,
        { text: " that match " },
        source,
        { text: " by " },
        same,
        { text: "; rows that other rows refer to are " },
        control("breaking", spec.breaking === "refuse" ? "refused" : "removed anyway"),
        end,
      ];
    default:
      return spec.action satisfies never;
  }
}

/** What posting would do, as it is asked before it is done: "Add 12 rows and change 3 rows. 1 row is refused." */
export function postingQuestion(outcomes: Record<"add" | "change" | "remove" | "refused", number>, locale: Locale): string {
  const done = (["add", "change", "remove"] as const).flatMap((kind) => (outcomes[kind] > 0 ? [`${kind} ${counted(outcomes[kind], "row", locale)}`] : []));
  const words = done.join(" and ");
  const refused = counted(outcomes.refused, "row", locale);
  const left = outcomes.refused > 0 ? ` ${refused} ${outcomes.refused === 1 ? "is" : "are"} refused.` : "";
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}.${left}`;
}
