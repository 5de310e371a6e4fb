"use client";

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { FilterValues } from "@/core/dashboard/spec";
import type { DerivedField } from "@/core/derive/spec";
import type { CellPick } from "@/core/pivot/pick";
import type { PivotSpec } from "@/core/pivot/spec";
import type { Proof, ProofPick } from "@/core/proof/proof";
import type { Plan } from "@/core/query/plan";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Cell } from "@/core/types/valueType";
import type { FootingAnswer } from "@/server/queries/service";
import { AskError, ask, isAbort, sentenceOf } from "../ask";

export type Question = {
  spec: QuerySpec;
  values: ParameterValues;
  pick?: ProofPick | undefined;
  cell?: (CellPick & { pivot: PivotSpec }) | undefined;
  draft?: DerivedField | undefined;
  /** The tile of a saved dashboard that the rows are behind, where it is only looked at. */
  tile?: { object: string; id: string; values: FilterValues } | undefined;
};

const BLOCK = 100;
/** How long a change waits for the next keystroke before the query runs. */
const SETTLE_MS = 120;

type Blocks = Map<number, Cell[][] | Promise<void>>;
type Run = { key: string; plan: Plan; abort: AbortController; blocks: Blocks };
type State = {
  /** What the rows on show belong to: the last question that was answered, until the next one is. */
  shown: Run | null;
  rows: number | null;
  footing: FootingAnswer | null;
  proof: Proof | null;
  failure: AskError | null;
  proofFailure: string | null;
  seconds: number | null;
  running: boolean;
  stopped: boolean;
};
const NOTHING: State = {
  shown: null,
  rows: null,
  footing: null,
  proof: null,
  failure: null,
  proofFailure: null,
  seconds: null,
  running: false,
  stopped: false,
};

const asFailure = (error: unknown) => (error instanceof AskError ? error : new AskError({ sentence: sentenceOf(error), code: "unforeseen", problems: [] }));

/**
 * Runs a question: rows in blocks as they are looked at, footing and proof beside them. Each question has its own
 * run; the sheet shows the last one answered, with the plan its rows were made by, and what an older one still
 * answers is thrown away.
 * @param question null while it cannot be run; it goes with its plan
 */
export function useRun(question: Question | null, plan: Plan | null) {
  const key = useMemo(() => (question ? JSON.stringify(question) : null), [question]);
  const [state, setState] = useState<State>(NOTHING);
  const [, redraw] = useState(0);
  const latest = useRef<Run | null>(null);
  const wanted = useRef(plan);
  wanted.current = plan;

  const fetchBlock = useCallback(async (run: Run, block: number): Promise<void> => {
    const known = run.blocks.get(block);
    if (known) return known instanceof Promise ? known : undefined;
    const body = { ...JSON.parse(run.key), offset: block * BLOCK, rows: BLOCK };
    const load = ask<Cell[][]>("/api/query/rows", body, { signal: run.abort.signal }).then((rows) => {
      run.blocks.set(block, rows);
      if (latest.current === run) redraw((n) => n + 1);
    });
    run.blocks.set(block, load);
    load.catch(() => run.blocks.delete(block));
    return load;
  }, []);

  const start = useCallback(() => {
    if (!key || !wanted.current) return;
    latest.current?.abort.abort();
    const run: Run = { key, plan: wanted.current, abort: new AbortController(), blocks: new Map() };
    latest.current = run;
    const { signal } = run.abort;
    const asked = JSON.parse(key) as Question;
    const since = performance.now();
    const update = (change: Partial<State>) => latest.current === run && setState((s) => ({ ...s, ...change }));
    update({ running: true, stopped: false, failure: null, proofFailure: null });
    const failed = (error: unknown) => isAbort(error) || update({ failure: asFailure(error), running: false });
    const firstRows = fetchBlock(run, 0);
    const footing = ask<FootingAnswer>("/api/query/footing", asked, { signal });
    const proof = asked.pick || asked.cell ? null : ask<Proof>("/api/query/proof", asked, { signal });
    firstRows.then(() => {
      const first = run.blocks.get(0);
      update({ shown: run, rows: Array.isArray(first) ? first.length : 0, footing: null, seconds: (performance.now() - since) / 1000 });
      footing.then((answer) => update({ footing: answer, rows: answer.lines ?? answer.rows }), failed);
    }, failed);
    footing.catch(() => {});
    proof?.then(
      (answer) => update({ proof: answer }),
      (error) => isAbort(error) || update({ proof: null, proofFailure: sentenceOf(error) }),
    );
    Promise.allSettled([firstRows, footing, proof]).then(() => update({ running: false }));
  }, [key, fetchBlock]);

  useEffect(() => {
    if (!key) {
      latest.current?.abort.abort();
      latest.current = null;
      setState(NOTHING);
      return;
    }
    const timer = setTimeout(start, latest.current ? SETTLE_MS : 0);
    return () => clearTimeout(timer);
  }, [key, start]);
  useEffect(() => () => latest.current?.abort.abort(), []);

  const { shown } = state;
  const rowAt = useCallback(
    (index: number): Cell[] | undefined => {
      const block = shown?.blocks.get(Math.floor(index / BLOCK));
      return Array.isArray(block) ? block[index % BLOCK] : undefined;
    },
    [shown],
  );
  const fetchBetween = useCallback(
    async (first: number, last: number): Promise<void> => {
      if (!shown || latest.current !== shown) return;
      for (let block = Math.floor(first / BLOCK); block <= Math.floor(last / BLOCK); block++) await fetchBlock(shown, block);
    },
    [shown, fetchBlock],
  );
  const onWindow = useCallback((first: number, last: number) => void fetchBetween(first, last).catch(() => {}), [fetchBetween]);
  /** All rows from one to another, fetched where they are not here yet. */
  const rowsBetween = useCallback(
    async (first: number, last: number): Promise<Cell[][]> => {
      await fetchBetween(first, last);
      return Array.from({ length: last - first + 1 }, (_, i) => rowAt(first + i) ?? []);
    },
    [fetchBetween, rowAt],
  );
  const stop = useCallback(() => {
    latest.current?.abort.abort();
    setState((s) => ({ ...s, running: false, stopped: true }));
  }, []);

  return { ...state, rowAt, onWindow, rowsBetween, stop, again: start };
}

export type Running = ReturnType<typeof useRun>;
