"use client";

import { useDeferredValue, useMemo } from "react";
import type { ChartAnswer } from "@/core/chart/data";
import { planChart } from "@/core/chart/plan";
import type { ChartSpec } from "@/core/chart/spec";
import { tableOfPlan } from "@/core/query/planTable";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { useAnswer } from "../useAnswer";

/** A chart as it is worked out while it is changed: what is wrong with it, and the last answer with what that was asked by. */
export function useChart(spec: ChartSpec, query: QuerySpec, schema: Schema, today: Today) {
  const settled = useDeferredValue(spec);
  const values = settled.pivot.parameters;
  const inner = useMemo(() => resolveQuery(query, schema, { today, values }), [query, schema, today, values]);
  // A histogram whose bands the data decides is planned on the server; here any width tells what is wrong with the rest.
  const planned = useMemo(() => (inner.ok ? planChart(settled, inner.value, { today, values }, settled.band || "1") : inner), [inner, settled, today, values]);
  const table = useMemo(() => (inner.ok ? tableOfPlan(inner.value) : null), [inner]);
  const {
    answer: found,
    asked,
    failure,
    running,
  } = useAnswer<ChartAnswer, { spec: ChartSpec; values: object }>("/api/charts", planned.ok ? { spec: settled, values: {} } : null, { settleMs: 120 });
  const problems = planned.ok ? (failure?.body.problems ?? []) : planned.problems;
  const answer = planned.ok ? found : null;
  // What is drawn is drawn as it was asked for, until the next answer is there.
  const drawnSpec = asked?.spec ?? settled;
  return { inner, planned, table, answer, drawnSpec, failure, running, problems, values };
}
