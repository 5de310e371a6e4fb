import type { Plan, PlanColumn } from "../query/plan";
import { mapColumns } from "./gone";
import type { ReportSpec } from "./spec";

/** The name a column keeps that another query does not have: what it was called, so that a person knows it again. */
const GONE = "gone: ";
const goneId = (heading: string) => `${GONE}${heading}`.slice(0, 60);

/**
 * A report laid over another query. A column is met again by what it is and is called, never by its id, which each query gives
 * by itself. What the other query lacks is kept under its old name, to be pointed at another column or removed (gone.ts).
 * @param before the plan of the query it was made from; null where that is gone, and ids are all there is
 */
export function repointReport(spec: ReportSpec, source: Pick<ReportSpec, "query" | "own">, before: Plan | null, after: Plan): ReportSpec {
  const alike = (a: PlanColumn, test: (c: PlanColumn) => boolean) => after.columns.find((c) => c.type.kind === a.type.kind && test(c));
  const same = (a: PlanColumn) =>
    alike(a, (c) => c.origin === a.origin && c.heading === a.heading) ?? alike(a, (c) => c.origin === a.origin) ?? alike(a, (c) => c.heading === a.heading);
  const met = (id: string): string => {
    if (id.startsWith(GONE)) return after.columns.find((c) => goneId(c.heading) === id)?.id ?? id;
    const old = before?.columns.find((c) => c.id === id);
    return (old && same(old)?.id) ?? goneId(old?.heading ?? id);
  };
  const asked = new Set(after.parameters.map((p) => p.name));
  const parameters = Object.fromEntries(Object.entries(spec.parameters).filter(([name]) => asked.has(name)));
  const { own: _, ...rest } = mapColumns(spec, met);
  return { ...rest, query: source.query, ...(source.own ? { own: source.own } : {}), parameters };
}
