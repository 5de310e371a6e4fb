import { DATE_PART_WORDS, DATE_PARTS, type DatePart } from "../types/date";
import { problem } from "../types/problem";
import { whole } from "../types/valueType";
import { capitalised } from "./naming";
import { type Path, type Resolver, report } from "./operands";
import type { Plan, PlanColumn, PlanWindow } from "./plan";
import type { QueryColumn, QuerySpec } from "./spec";
import { BACK_WORDS, WINDOWS, YEAR_STEPS } from "./windows";

/** Rows a moving average is taken over where nothing is chosen. */
export const MOVING_ROWS = 3;
/** Parts that rows are put into where nothing is chosen: quartiles. */
export const QUANTILE_PARTS = 4;

/**
 * A column worked out from the rows beside it: of another column of the query, in the order of the query or of one
 * column, by itself for each value of some columns.
 * @param make another column of the query, by its id
 */
export function resolveWindow(
  column: QueryColumn,
  spec: QuerySpec,
  make: (id: string) => PlanColumn | null,
  resolver: Pick<Resolver, "problems">,
  path: Path,
): PlanColumn | null {
  const { problems } = resolver;
  const given = column.window ?? { kind: "number" as const };
  const record = WINDOWS[given.kind];
  const { value } = column;
  const own = value?.kind === "column" ? spec.columns.find((c) => c.id === value.id) : undefined;
  const of = own ? make(own.id) : null;
  // What is wrong with the column it is of is said there.
  if (own && !of) return null;
  if (of?.window) return report(problems, problem("windowNested", path, { window: record.words }));
  if (record.takes && !(of && record.takes(of.type))) return report(problems, problem("windowOf", path, { window: record.words, wanted: "number" }));
  const known = (id: string | undefined) => id !== undefined && spec.columns.some((c) => c.id === id && c.figure !== "window");
  const back = record.back ? (given.back ?? "row") : "row";
  const period = back === "row" ? null : periodOf(spec, given.by, back);
  if (back !== "row" && !period)
    return report(
      problems,
      problem("windowPeriod", path, {
        window: record.words,
        parts: Object.values(DATE_PART_WORDS)
          .slice(0, back === "year" ? 4 : 5)
          .join(", "),
      }),
    );
  const ownOrder = spec.order.filter((o) => known(o.column));
  const order: Plan["order"] = given.by && known(given.by) && !period ? [{ column: given.by, direction: given.direction ?? "up" }] : ownOrder;
  const window: PlanWindow = {
    kind: given.kind,
    of: record.takes ? (of?.id ?? null) : null,
    per: (given.per ?? []).filter(known),
    order,
    direction: given.direction ?? (given.kind === "quantile" ? "up" : "down"),
    rows: given.rows ?? (record.rows === "parts" ? QUANTILE_PARTS : MOVING_ROWS),
    period,
  };
  const type = record.gives(of?.type ?? whole);
  const words = `${record.words}${record.takes ? ` of ${of?.heading ?? ""}` : ""}${record.back ? ` ${BACK_WORDS[back]}` : ""}`;
  return {
    id: column.id,
    expr: null,
    figure: "window",
    derived: true,
    window,
    type,
    heading: column.label ?? capitalised(words),
    origin: words,
    unit: record.part || given.kind === "rank" || given.kind === "quantile" || given.kind === "number" ? undefined : of?.unit,
    hidden: column.hidden ?? false,
    format: {
      ...(record.part
        ? { percent: true, decimals: 1 }
        : given.kind === "moving" || given.kind === "average"
          ? { decimals: 2 }
          : given.kind === "rank" || given.kind === "quantile"
            ? {}
            : (of?.format ?? {})),
      ...column.format,
    },
    totalled: false,
    home: null,
  };
}

/** The dates of a query's groups by which it looks back, and the groups that tell rows of one period apart. */
export function periodOf(spec: QuerySpec, by: string | undefined, back: "period" | "year"): PlanWindow["period"] {
  if (!spec.grouped) return null;
  const keys = spec.columns.filter((c) => !c.figure);
  const found = keys.flatMap((c) => {
    const part = by === undefined || c.id === by ? partOf(c) : null;
    const steps = part && (back === "period" ? 1 : YEAR_STEPS[part]);
    return part && steps ? [{ column: c.id, part, steps, per: keys.filter((k) => k !== c).map((k) => k.id) }] : [];
  });
  return found[0] ?? null;
}

/** The part of its dates that a group is made by; null for any other. */
function partOf({ value }: QueryColumn): DatePart | null {
  const part = value?.kind === "field" ? value.part : undefined;
  return part === "businessYear" ? "year" : (DATE_PARTS.find((p) => p === part) ?? null);
}
