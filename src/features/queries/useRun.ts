"use client";

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Proof } from "@/core/proof/proof";
import type { Plan } from "@/core/query/plan";
import type { Cell } from "@/core/types/valueType";
import type { Asked } from "@/server/http/ahead";
import type { FootingAnswer, SheetRows } from "@/server/services/queries/service";
import { useAhead } from "../ahead/AnswersAhead";
import { AskError, ask, isAbort, sentenceOf } from "../ask";
import { BLOCK, blockAsked, proofAsked, type Question, sheetFootingAsked } from "./questions";

/** How long a change waits for the next keystroke before the query runs. */
const SETTLE_MS = 120;

type Blocks = Map<number, Cell[][] | Promise<void>>;
type Run = { key: string; plan: Plan; abort: AbortController; blocks: Blocks };
type State = {
  /** What the rows on show belong to: the last question that was answered, until the next one is. */
  shown: Run | null;
  rows: number | null;
  /** The moment (ISO 8601) that rows or footing are of, where that is an earlier one. */
  asOf: string | null;
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
  asOf: null,
  footing: null,
  proof: null,
  failure: null,
  proofFailure: null,
  seconds: null,
  running: false,
  stopped: false,
};

const hasProof = (question: Question): boolean => !question.pick && !question.cell && !question.group;

/** A run as far as it came with its page: its first rows, and what there is of footing and proof beside them. */
function runAhead(key: string | null, plan: Plan | null, ahead: ReturnType<typeof useAhead>): State {
  if (key === null || plan === null) return NOTHING;
  const question = JSON.parse(key) as Question;
  const first = ahead<SheetRows>(blockAsked(question, 0));
  if (!first) return NOTHING;
  const { rows, asOf } = first.answer;
  const footing = ahead<FootingAnswer>(sheetFootingAsked(question))?.answer ?? null;
  const proof = ahead<Proof>(proofAsked(question))?.answer ?? null;
  return {
    ...NOTHING,
    shown: { key, plan, abort: new AbortController(), blocks: new Map([[0, rows]]) },
    rows: footing ? rowsOfFooting(footing) : rows.length,
    asOf: asOf ?? footing?.asOf ?? null,
    footing,
    proof,
    seconds: first.seconds,
    running: footing === null || (proof === null && hasProof(question)),
  };
}

const rowsOfFooting = ({ lines, rows }: FootingAnswer): number => lines ?? rows;

const asFailure = (error: unknown) => (error instanceof AskError ? error : new AskError({ sentence: sentenceOf(error), code: "unforeseen", problems: [] }));

/**
 * Runs a question: rows in blocks as they are looked at, footing and proof beside them. Each question has its own
 * run; the sheet shows the last one answered, with the plan its rows were made by, and what an older one still
 * answers is thrown away.
 * @param question null while it cannot be run; it goes with its plan
 */
export function useRun(question: Question | null, plan: Plan | null) {
  const key = useMemo(() => (question ? JSON.stringify(question) : null), [question]);
  const ahead = useAhead();
  const [state, setState] = useState(() => runAhead(key, plan, ahead));
  const [drawn, redraw] = useState(0);
  const latest = useRef(state.shown);
  /** The run that came with the page, until what it still needs is asked for. */
  const came = useRef(state.shown && state);
  const wanted = useRef(plan);
  wanted.current = plan;

  const fetchBlock = useCallback(async (run: Run, block: number): Promise<void> => {
    const known = run.blocks.get(block);
    if (known) return known instanceof Promise ? known : undefined;
    const { path, body } = blockAsked(JSON.parse(run.key), block);
    const load = ask<SheetRows>(path, body, { signal: run.abort.signal }).then(({ rows, asOf }) => {
      run.blocks.set(block, rows);
      if (latest.current !== run) return;
      if (asOf) setState((s) => ({ ...s, asOf }));
      redraw((n) => n + 1);
    });
    run.blocks.set(block, load);
    load.catch(() => run.blocks.delete(block));
    return load;
  }, []);

  /** Asks for what a run needs: its first rows, unless they came with the page, and what is missing of footing and proof. */
  const fill = useCallback(
    (run: Run, had: Pick<State, "footing" | "proof"> | null) => {
      const { signal } = run.abort;
      const asked = JSON.parse(run.key) as Question;
      const since = performance.now();
      const update = (change: Partial<State>) => latest.current === run && setState((s) => ({ ...s, ...change }));
      const failed = (error: unknown) => isAbort(error) || update({ failure: asFailure(error), running: false });
      const sent = <T>({ path, body }: Asked): Promise<T> => ask<T>(path, body, { signal });
      const firstRows = had ? Promise.resolve() : fetchBlock(run, 0);
      const footing = had?.footing ? null : sent<FootingAnswer>(sheetFootingAsked(asked));
      const proof = had?.proof || !hasProof(asked) ? null : sent<Proof>(proofAsked(asked));
      firstRows.then(() => {
        const first = run.blocks.get(0);
        if (!had) update({ shown: run, rows: Array.isArray(first) ? first.length : 0, footing: null, seconds: (performance.now() - since) / 1000 });
        footing?.then((answer) => update({ footing: answer, rows: rowsOfFooting(answer), ...(answer.asOf ? { asOf: answer.asOf } : {}) }), failed);
      }, failed);
      footing?.catch(() => {});
      proof?.then(
        (answer) => update({ proof: answer }),
        (error) => isAbort(error) || update({ proof: null, proofFailure: sentenceOf(error) }),
      );
      Promise.allSettled([firstRows, footing, proof]).then(() => update({ running: false }));
    },
    [fetchBlock],
  );

  const start = useCallback(() => {
    if (!key || !wanted.current) return;
    latest.current?.abort.abort();
    const run: Run = { key, plan: wanted.current, abort: new AbortController(), blocks: new Map() };
    latest.current = run;
    setState((s) => ({ ...s, running: true, stopped: false, failure: null, proofFailure: null, asOf: null }));
    fill(run, null);
  }, [key, fill]);

  useEffect(() => {
    const had = came.current;
    came.current = null;
    if (!key) {
      latest.current?.abort.abort();
      latest.current = null;
      setState(NOTHING);
      return;
    }
    if (had?.shown?.key === key) return void (had.running && fill(had.shown, had));
    const timer = setTimeout(start, latest.current ? SETTLE_MS : 0);
    return () => clearTimeout(timer);
  }, [key, start, fill]);
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

  /** The rows that are here, in blocks; each block is the same list each time. */
  const blocks = useMemo(() => [...(shown?.blocks.values() ?? [])].filter((b): b is Cell[][] => Array.isArray(b)), [shown, drawn]);

  return { ...state, blocks, rowAt, onWindow, rowsBetween, stop, again: start };
}

export type Running = ReturnType<typeof useRun>;
