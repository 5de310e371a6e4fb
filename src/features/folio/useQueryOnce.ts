"use client";

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { sentence } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import type { Asked } from "@/server/http/ahead";
import type { FootingAnswer } from "@/server/services/queries/service";
import { useAhead } from "../ahead/AnswersAhead";
import { ask, isAbort, sentenceOf } from "../ask";
import { footingAsked, rowsAsked } from "../queries/questions";

type State = { plan: Plan | null; rows: Cell[][] | null; footing: FootingAnswer | null; failure: string | null };
const NOTHING: State = { plan: null, rows: null, footing: null, failure: null };

/** The first rows of a query and its footing, as they came with the page; asked anew when it changes, or `again`. */
export function useQueryOnce(spec: QuerySpec | null, schema: Schema, today: Today, values: ParameterValues, count: number): State & { again: () => void } {
  const key = JSON.stringify([spec, values, count]);
  const resolved = useMemo(() => spec && resolveQuery(spec, schema, { today, values }), [key, schema, today]);
  const ahead = useAhead();
  const [state, setState] = useState((): State => {
    const question = spec && { spec, values };
    const rows = question && ahead<Cell[][]>(rowsAsked(question, 0, count))?.answer;
    const footing = question && ahead<FootingAnswer>(footingAsked(question))?.answer;
    return rows && footing && resolved?.ok ? { plan: resolved.value, rows, footing, failure: null } : NOTHING;
  });
  const came = useRef(state.rows !== null);
  const [turn, setTurn] = useState(0);
  const again = useCallback(() => setTurn((n) => n + 1), []);
  useEffect(() => {
    const answered = came.current;
    came.current = false;
    if (!spec || !resolved || answered) return;
    if (!resolved.ok) {
      setState({ ...NOTHING, failure: [...new Set(resolved.problems.map(sentence))].join(" ") });
      return;
    }
    const abort = new AbortController();
    const options = { signal: abort.signal };
    const sent = <T>({ path, body }: Asked): Promise<T> => ask<T>(path, body, options);
    Promise.all([sent<Cell[][]>(rowsAsked({ spec, values }, 0, count)), sent<FootingAnswer>(footingAsked({ spec, values }))]).then(
      ([r, f]) => setState({ plan: resolved.value, rows: r, footing: f, failure: null }),
      (error) => isAbort(error) || setState({ ...NOTHING, failure: sentenceOf(error) }),
    );
    return () => abort.abort();
  }, [key, resolved, turn]);
  return { ...state, again };
}
