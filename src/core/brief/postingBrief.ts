import type { Action, Present } from "../posting/choices";
import { type StepTally, WRITING } from "../posting/outcome";
import type { PostingSpec, PostingStep } from "../posting/spec";
import { stepsOf } from "../posting/steps";
import { findColumn, findTable, type Schema } from "../schema/schema";
import { counted, type Locale } from "../types/format";
import type { Phrase } from "./brief";

const ACTION_WORDS: Record<Action, string> = { add: "Add", change: "Change", remove: "Remove", move: "Move" };
const PRESENT_WORDS: Record<Present, string> = { leave: "left unchanged", change: "updated", add: "added anyway" };

/** How the control of a step's phrase is called: that of the first by its part alone. */
export const stepPart = (step: number, part: string): string => (step === 0 ? part : `${part} ${step}`);

/** Which part of which step a phrase edits. */
export function stepOfPart(name: string): { step: number; part: string } {
  const [part = "", step = "0"] = name.split(" ");
  return { step: Number(step), part };
}

/** The brief of a posting, its steps one sentence each; a phrase's name says which part of which step it edits. */
export const postingBrief = (spec: PostingSpec, schema: Schema, sourceNames: string[]): Phrase[] =>
  stepsOf(spec).flatMap((step, i) => [...(i > 0 ? [{ text: " Then " }] : []), ...stepBrief(step, schema, sourceNames[i] ?? "…", i)]);

function stepBrief(spec: PostingStep, schema: Schema, sourceName: string, step: number): Phrase[] {
  const control = (part: string, text: string): Phrase => ({ text, target: { kind: "field", name: stepPart(step, part) } });
  const table = findTable(schema, spec.target);
  const target = control("target", table?.label ?? `a missing table (${spec.target})`);
  const same = control(
    "same",
    spec.same.map((c) => (table && findColumn(table, c)?.label) ?? c).join(" and ") + (spec.alike ? " (ignoring case and punctuation)" : "") || "…",
  );
  const source = control("source", sourceName);
  const action = control("action", step === 0 ? ACTION_WORDS[spec.action] : ACTION_WORDS[spec.action].toLowerCase());
  const end = { text: "." };
  const breaking = control("breaking", spec.breaking === "refuse" ? "refused" : `${spec.action === "move" ? "moved" : "removed"} anyway`);
  const referred: Phrase[] = [{ text: "; rows that other rows refer to are " }, breaking];
  const lands = (opening: Phrase[]): Phrase[] => {
    if (spec.present === "add" && spec.same.length === 0) return [...opening, { text: ", " }, control("present", "each as a new row")];
    return [...opening, { text: ". Match rows by " }, same, { text: "; existing rows are " }, control("present", PRESENT_WORDS[spec.present])];
  };
  switch (spec.action) {
    case "add":
      return [...lands([action, { text: " the rows of " }, source, { text: " to " }, target]), end];
    case "move":
      return [...lands([action, { text: " the rows of " }, source, { text: " to " }, target]), ...referred, end];
    case "change":
      return [action, { text: " rows of " }, target, { text: " from " }, source, { text: ", matched by " }, same, end];
    case "remove":
      return [action, { text: " the rows of " }, target, { text: " that match " }, source, { text: " by " }, same, ...referred, end];
    default:
      return spec.action satisfies never;
  }
}

/** What posting would do, as it is asked before it is done: "Add 12 rows and change 3 rows. 1 row is refused." */
export function postingQuestion(steps: Pick<StepTally, "outcomes">[], locale: Locale): string {
  const rows = (kind: (typeof WRITING)[number] | "refused") => steps.reduce((sum, { outcomes }) => sum + outcomes[kind], 0);
  const done = WRITING.flatMap((kind) => (rows(kind) > 0 ? [`${kind} ${counted(rows(kind), "row", locale)}`] : []));
  const words = done.join(" and ");
  const refused = counted(rows("refused"), "row", locale);
  const left = rows("refused") > 0 ? ` ${refused} ${rows("refused") === 1 ? "is" : "are"} refused.` : "";
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}.${left}`;
}
