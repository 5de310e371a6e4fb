import type { ControlCheck } from "../query/controls";
import type { Plan } from "../query/plan";
import { cellWriter, type Locale } from "../types/format";
import { parameterWords } from "./words";

/** The parameters of a report's query with their values, in words; those left empty are not said. */
export function parametersInWords({ parameters }: Pick<Plan, "parameters">, locale: Locale): string[] {
  const said = parameters.flatMap(({ name, text, type, period }) => {
    const words = parameterWords({ text, type, period: period === true }, locale);
    return words === "" ? [] : [`${name.replaceAll("_", " ")}: ${words}`];
  });
  return said.length === 0 ? [] : [said.join(" · ")];
}

/** The control totals of a report's query, each with whether it agrees. */
export function controlsInWords(checks: ControlCheck[], locale: Locale): string[] {
  return checks.map(({ control, heading, type, is, out, agrees }) => {
    const write = (cell: ControlCheck["is"]) => cellWriter(type, {}, locale)(cell).text;
    const from = control.source ? ` (${control.source})` : "";
    const verdict = agrees ? "agrees ✓" : out === null ? "cannot be compared" : `differs by ${write(out)}`;
    return `Control total of ${heading}${from}: ${control.value}; here ${write(is)}, ${verdict}`;
  });
}
