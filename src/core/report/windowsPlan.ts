import type { Plan, PlanColumn } from "../query/plan";
import { resolveWindow } from "../query/resolveWindow";
import type { QueryColumn, QuerySpec } from "../query/spec";
import { GRAND } from "./choices";
import { type ReportRows, valueId, windowId } from "./rowsPlan";
import type { ReportSpec } from "./spec";

/** The rows of a report with what is worked out of them from the rows beside: in the groups of a level, in the order they are printed. */
export function withWindows(spec: ReportSpec, { plan, levels }: ReportRows): Plan {
  const columns = spec.columns.flatMap((c): PlanColumn[] => {
    if (!c.window) return [];
    const of = plan.columns.find((o) => o.id === valueId(c.id));
    const depth = c.window.level === GRAND ? 0 : levels.findIndex((l) => l.level.id === c.window?.level) + 1;
    const per = levels.slice(0, depth).flatMap((l) => (l.rest ? [l.rest, l.key] : [l.key]));
    const asked: QueryColumn = {
      id: windowId(c.id),
      figure: "window",
      value: { kind: "column", id: valueId(c.id) },
      window: { kind: c.window.kind, per },
      ...(c.label ? { label: c.label } : {}),
      ...(c.format ? { format: c.format } : {}),
    };
    const known = plan.columns.map((o): QueryColumn => ({ id: o.id, value: null }));
    const query = { columns: [...known, asked], order: plan.order, grouped: false } as unknown as QuerySpec;
    const made = resolveWindow(asked, query, () => of ?? null, { problems: [] }, []);
    // A column of what has no such figure prints its value.
    return made ? [made] : of ? [{ ...of, id: windowId(c.id) }] : [];
  });
  return columns.length === 0 ? plan : { ...plan, columns: [...plan.columns, ...columns] };
}
