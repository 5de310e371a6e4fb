import type { Plan, PlanColumn } from "../query/plan";
import type { ReportSpec } from "./spec";

/**
 * A report laid over another query. A column is met again by what it is and is called, never by its id, which each query gives
 * by itself; what the other query lacks goes with its groups and footings, and is named.
 * @param before the plan of the query it was made from; null where that is gone, and ids are all there is
 * @returns the report, and the headings of what could not be kept
 */
export function repointReport(spec: ReportSpec, query: string, before: Plan | null, after: Plan): { spec: ReportSpec; dropped: string[] } {
  const alike = (a: PlanColumn, test: (c: PlanColumn) => boolean) => after.columns.find((c) => c.type.kind === a.type.kind && test(c));
  const same = (a: PlanColumn) =>
    alike(a, (c) => c.origin === a.origin && c.heading === a.heading) ?? alike(a, (c) => c.origin === a.origin) ?? alike(a, (c) => c.heading === a.heading);
  const met = (id: string): string | undefined => {
    const old = before?.columns.find((c) => c.id === id);
    return old ? same(old)?.id : undefined;
  };
  const wordsOf = (id: string) => before?.columns.find((c) => c.id === id)?.heading ?? id;
  const kept = <T extends { column: string }>(parts: T[]): T[] =>
    parts.flatMap((part) => {
      const column = met(part.column);
      return column === undefined ? [] : [{ ...part, column }];
    });
  const [levels, columns] = [kept(spec.levels), kept(spec.columns)];
  const asked = new Set(after.parameters.map((p) => p.name));
  const parameters = Object.fromEntries(Object.entries(spec.parameters).filter(([name]) => asked.has(name)));
  const gone = [...spec.levels, ...spec.columns].map((p) => p.column).filter((id) => met(id) === undefined);
  return { spec: { ...spec, query, levels, columns, parameters }, dropped: [...new Set(gone.map(wordsOf))] };
}
