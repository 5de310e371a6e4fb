import { WEEKDAYS } from "../schedule/choices";
import type { EachSpec } from "../schedule/eachSpec";
import type { Binding, ScheduleRule, ScheduleSpec } from "../schedule/spec";
import { isIsoDate } from "../types/date";
import { type Locale, writeDate } from "../types/format";
import { RELATIVE_DATES } from "../types/relative";
import { stretchWords } from "../types/stretch";
import { listed, type Phrase } from "./brief";

/** When a rule runs, in words: "every working day", "on the last working day of the month". */
export function ruleWords(rule: ScheduleRule): string {
  switch (rule.kind) {
    case "daily":
      return "Every day";
    case "workingDays":
      return "Every working day";
    case "weekdays":
      return `Every ${listed([...rule.days].sort().map((d) => [{ text: WEEKDAYS[d - 1] ?? "" }]))
        .map((p) => p.text)
        .join("")}`;
    case "monthDay":
      return `On day ${rule.day} of the month`;
    case "lastWorkingDay":
      return "On the last working day of the month";
    default:
      return rule satisfies never;
  }
}

export const bindingWords = (binding: Binding, locale: Locale): string =>
  binding.kind === "relative"
    ? RELATIVE_DATES[binding.date].words
    : isIsoDate(binding.text)
      ? writeDate(binding.text, locale)
      : stretchWords(binding.text, locale) || "…";

const mailWords = (to: string[]): string => (to.length > 2 ? `${to[0]} and ${to.length - 1} others` : to.join(" and "));

/** What there is one file for, in words: "shipper", "row of Shippers". */
const eachWords = ({ query, match }: EachSpec, nameOf: (id: string) => string | undefined): string =>
  query === null ? match.map((m) => m.from.replaceAll("_", " ")).join(" and ") : `row of ${nameOf(query) ?? "a deleted query"}`;

/**
 * The brief of a schedule. A phrase's name says which part of the description it edits.
 * @param nameOf what a saved query is called
 */
export function scheduleBrief(
  spec: ScheduleSpec,
  subject: { name: string } | null,
  locale: Locale,
  nameOf: (id: string) => string | undefined = () => undefined,
): Phrase[] {
  const control = (name: string, text: string): Phrase => ({ text, target: { kind: "field", name } });
  const bound = Object.entries(spec.bindings).map(([name, binding]): Phrase[] => [
    { text: `${name} ` },
    control(`binding ${name}`, bindingWords(binding, locale)),
  ]);
  return [
    control("rule", ruleWords(spec.rule)),
    { text: " at " },
    control("time", spec.time),
    { text: `, ${spec.subject.kind === "posting" ? "make" : "run"} the ${spec.subject.kind} ` },
    control("subject", subject?.name ?? "a deleted one"),
    ...(spec.each ? [{ text: " once for each " }, control("each", eachWords(spec.each, nameOf))] : []),
    ...(bound.length > 0 ? [{ text: " with " }, ...listed(bound)] : []),
    { text: spec.subject.kind === "posting" ? ", save what became of each row as " : ", save " },
    control("formats", spec.formats.map((f) => f.toUpperCase()).join(" and ")),
    { text: " in " },
    control("folder", `outbox › ${spec.folder}`),
    ...(spec.message ? [{ text: " and send a message to " }, control("message", spec.each?.to ? "each one’s address" : mailWords(spec.message.to))] : []),
    { text: "." },
  ];
}
