"use client";

import { useEffect, useMemo, useState } from "react";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { sentence } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import type { FootingAnswer } from "@/server/queries/service";
import { ask, isAbort, sentenceOf } from "../ask";

type State = { plan: Plan | null; rows: Cell[][] | null; footing: FootingAnswer | null; failure: string | null };

/** The first rows of a query and its footing; asked anew when it changes. */
export function useQueryOnce(spec: QuerySpec | null, schema: Schema, today: Today, values: ParameterValues, count: number): State {
  const key = JSON.stringify([spec, values, count]);
  const resolved = useMemo(() => spec && resolveQuery(spec, schema, { today, values }), [key, schema, today]);
  const [state, setState] = useState<State>({ plan: null, rows: null, footing: null, failure: null });
  useEffect(() => {
    if (!spec || !resolved) return;
    if (!resolved.ok) {
      setState({ plan: null, rows: null, footing: null, failure: [...new Set(resolved.problems.map(sentence))].join(" ") });
      return;
    }
    const abort = new AbortController();
    const options = { signal: abort.signal };
    const rows = ask<Cell[][]>("/api/query/rows", { spec, values, offset: 0, rows: count }, options);
    const footing = ask<FootingAnswer>("/api/query/footing", { spec, values }, options);
    Promise.all([rows, footing]).then(
      ([r, f]) => setState({ plan: resolved.value, rows: r, footing: f, failure: null }),
      (error) => isAbort(error) || setState({ plan: null, rows: null, footing: null, failure: sentenceOf(error) }),
    );
    return () => abort.abort();
  }, [key, resolved]);
  return state;
}
