import { useDeferredValue, useMemo } from "react";
import type { Pivot } from "@/core/pivot/pivot";
import { planPivot } from "@/core/pivot/plan";
import type { PivotSpec } from "@/core/pivot/spec";
import { tableOfPlan } from "@/core/query/planTable";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { useAnswer } from "../useAnswer";
import { pivotAsked } from "./pivotAsked";

/** A pivot's plan over its query, and its answer; what is shown is the last answer, as it was asked for, until the next is there. */
export function usePivot(spec: PivotSpec, query: QuerySpec, schema: Schema, today: Today) {
  const settled = useDeferredValue(spec);
  const values = settled.parameters;
  const inner = useMemo(() => resolveQuery(query, schema, { today, values }), [query, schema, today, values]);
  const planned = useMemo(() => (inner.ok ? planPivot(settled, inner.value, { today, values }) : inner), [inner, settled, today, values]);
  const table = useMemo(() => (inner.ok ? tableOfPlan(inner.value) : null), [inner]);
  const question = useMemo(() => (planned.ok ? pivotAsked(settled) : null), [planned, settled]);
  const { answer, asked: answered, failure, running } = useAnswer<Pivot, { spec: PivotSpec; values: object }>("/api/pivots", question, { settleMs: 120 });
  const plan = planned.ok ? planned.value : null;
  const { shut, heat, totals } = settled;
  const shown = useMemo(() => answered && plan && { ...answered.spec, shut, heat, totals }, [answered, plan, shut, heat, totals]);
  const problems = planned.ok ? (failure?.body.problems ?? []) : planned.problems;
  return { inner: inner.ok ? inner.value : null, plan, table, answer, answered, shown, settled, failure, running, problems };
}
