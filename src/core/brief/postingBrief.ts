import type { PostingSpec } from "../posting/spec";
import { findColumn, findTable, type Schema } from "../schema/schema";
import { counted, type Locale } from "../types/format";
import type { Phrase } from "./brief";

const ACTIONS: Record<PostingSpec["action"], string> = { add: "add", change: "change", remove: "remove" };
const PRESENT: Record<PostingSpec["present"], string> = { leave: "left as they are", change: "changed", add: "added all the same" };

/** The brief of a posting; a phrase's name says which part of the description it edits. */
export function postingBrief(spec: PostingSpec, schema: Schema, sourceName: string): Phrase[] {
  const control = (name: string, text: string): Phrase => ({ text, target: { kind: "field", name } });
  const table = findTable(schema, spec.target);
  const target = control("target", table?.label ?? `${spec.target}, which is gone`);
  const same = control("same", spec.same.map((c) => (table && findColumn(table, c)?.label) ?? c).join(" and ") || "…");
  const opening: Phrase[] = [{ text: "Take rows from " }, control("source", sourceName)];
  switch (spec.action) {
    case "add":
      return [
        ...opening,
        { text: " and " },
        control("action", ACTIONS.add),
        { text: " them to " },
        target,
        ...(spec.present === "add" && spec.same.length === 0
          ? [{ text: ", " }, control("present", "each as a new row"), { text: "." }]
          : [
              { text: ". A row is the same when " },
              same,
              { text: " is the same; rows already there are " },
              control("present", PRESENT[spec.present]),
              { text: "." },
            ]),
      ];
    case "change":
      return [
        ...opening,
        { text: " and " },
        control("action", ACTIONS.change),
        { text: " the rows of " },
        target,
        { text: " whose " },
        same,
        { text: " is the same." },
      ];
    case "remove":
      return [
        ...opening,
        { text: " and " },
        control("action", ACTIONS.remove),
        { text: " the rows of " },
        target,
        { text: " whose " },
        same,
        { text: " is the same; a row that others lead to is " },
        control("breaking", spec.breaking === "refuse" ? "refused" : "removed all the same"),
        { text: "." },
      ];
    default:
      return spec.action satisfies never;
  }
}

/** What posting would do, as it is asked before it is done: "Add 12 rows and change 3 rows. 1 row is refused and stays out." */
export function postingQuestion(outcomes: Record<"add" | "change" | "remove" | "refused", number>, locale: Locale): string {
  const done = (["add", "change", "remove"] as const).flatMap((kind) => (outcomes[kind] > 0 ? [`${kind} ${counted(outcomes[kind], "row", locale)}`] : []));
  const words = done.join(" and ");
  const refused = counted(outcomes.refused, "row", locale);
  const left = outcomes.refused > 0 ? ` ${refused} ${outcomes.refused === 1 ? "is refused and stays" : "are refused and stay"} out.` : "";
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}.${left}`;
}
