import type { ScheduleSpec } from "@/core/schedule/spec";
import type { Today } from "@/core/types/calendar";
import { RELATIVE_DATES } from "@/core/types/relative";

/** The values a run gives to parameters: fixed ones, and those relative to the day it was due. */
export function boundValues({ bindings }: Pick<ScheduleSpec, "bindings">, today: Today): Record<string, string> {
  return Object.fromEntries(Object.entries(bindings).map(([name, b]) => [name, b.kind === "fixed" ? b.text : RELATIVE_DATES[b.date].of(today)]));
}
