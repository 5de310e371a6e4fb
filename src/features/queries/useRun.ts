"use client";

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Proof, ProofPick } from "@/core/proof/proof";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Cell } from "@/core/types/valueType";
import type { FootingAnswer } from "@/server/queries/service";
import { AskError, ask, isAbort, sentenceOf } from "../ask";

export type Question = { spec: QuerySpec; values: ParameterValues; pick?: ProofPick | undefined };

const BLOCK = 100;
/** How long a change waits for the next keystroke before the query runs. */
const SETTLE_MS = 120;

type State = {
  rows: number | null;
  footing: FootingAnswer | null;
  proof: Proof | null;
  failure: AskError | null;
  proofFailure: string | null;
  seconds: number | null;
  running: boolean;
  stopped: boolean;
};
const NOTHING: State = { rows: null, footing: null, proof: null, failure: null, proofFailure: null, seconds: null, running: false, stopped: false };

/**
 * Runs a question: rows in blocks as they are looked at, footing and proof beside them. Each question has its own
 * run; what an older one still answers is thrown away.
 * @param question null while it cannot be run
 */
export function useRun(question: Question | null) {
  const key = useMemo(() => (question ? JSON.stringify(question) : null), [question]);
  const [state, setState] = useState<State>(NOTHING);
  const [, redraw] = useState(0);
  const run = useRef<{ key: string; abort: AbortController; blocks: Map<number, Cell[][] | Promise<void>> } | null>(null);

  const fetchBlock = useCallback(async (block: number): Promise<void> => {
    const mine = run.current;
    if (!mine || mine.blocks.has(block)) return mine?.blocks.get(block) as Promise<void> | undefined;
    const load = ask<Cell[][]>("/api/query/rows", { ...JSON.parse(mine.key), offset: block * BLOCK, rows: BLOCK }, { signal: mine.abort.signal }).then(
      (rows) => {
        mine.blocks.set(block, rows);
        if (run.current === mine) redraw((n) => n + 1);
      },
    );
    mine.blocks.set(block, load);
    load.catch(() => mine.blocks.delete(block));
    return load;
  }, []);

  const start = useCallback(() => {
    if (!key) return;
    run.current?.abort.abort();
    const mine = { key, abort: new AbortController(), blocks: new Map<number, Cell[][] | Promise<void>>() };
    run.current = mine;
    const { signal } = mine.abort;
    const current = () => run.current === mine;
    const since = performance.now();
    setState((s) => ({ ...s, running: true, stopped: false, failure: null, proofFailure: null }));
    const failed = (error: unknown) => {
      if (!current() || isAbort(error)) return;
      setState((s) => ({
        ...s,
        failure: error instanceof AskError ? error : new AskError({ sentence: sentenceOf(error), code: "unforeseen", problems: [] }),
        running: false,
      }));
    };
    const firstRows = fetchBlock(0);
    const footing = ask<FootingAnswer>("/api/query/footing", JSON.parse(key), { signal });
    firstRows.then(() => {
      if (!current()) return;
      const first = mine.blocks.get(0);
      const length = Array.isArray(first) ? first.length : 0;
      setState((s) => ({ ...s, rows: length < BLOCK ? length : Math.max(length, 0), seconds: (performance.now() - since) / 1000 }));
      footing.then((answer) => current() && setState((s) => ({ ...s, footing: answer, rows: answer.rows })), failed);
    }, failed);
    const question = JSON.parse(key) as Question;
    const proof = question.pick ? Promise.resolve(undefined) : ask<Proof>("/api/query/proof", question, { signal });
    proof.then(
      (answer) => current() && answer && setState((s) => ({ ...s, proof: answer })),
      (error) => current() && !isAbort(error) && setState((s) => ({ ...s, proof: null, proofFailure: sentenceOf(error) })),
    );
    Promise.allSettled([firstRows, footing, proof]).then(() => current() && setState((s) => ({ ...s, running: false })));
  }, [key, fetchBlock]);

  useEffect(() => {
    if (!key) {
      run.current?.abort.abort();
      run.current = null;
      setState(NOTHING);
      return;
    }
    const timer = setTimeout(
      () => {
        setState((s) => ({ ...s, footing: null }));
        start();
      },
      run.current ? SETTLE_MS : 0,
    );
    return () => clearTimeout(timer);
  }, [key, start]);
  useEffect(() => () => run.current?.abort.abort(), []);

  const rowAt = useCallback((index: number): Cell[] | undefined => {
    const block = run.current?.blocks.get(Math.floor(index / BLOCK));
    return Array.isArray(block) ? block[index % BLOCK] : undefined;
  }, []);
  const onWindow = useCallback(
    (first: number, last: number) => {
      for (let block = Math.floor(first / BLOCK); block <= Math.floor(last / BLOCK); block++) fetchBlock(block).catch(() => {});
    },
    [fetchBlock],
  );
  /** All rows from one to another, fetched where they are not here yet. */
  const rowsBetween = useCallback(
    async (first: number, last: number): Promise<Cell[][]> => {
      for (let block = Math.floor(first / BLOCK); block <= Math.floor(last / BLOCK); block++) await fetchBlock(block);
      return Array.from({ length: last - first + 1 }, (_, i) => rowAt(first + i) ?? []);
    },
    [fetchBlock, rowAt],
  );
  const stop = useCallback(() => {
    run.current?.abort.abort();
    setState((s) => ({ ...s, running: false, stopped: true }));
  }, []);

  return { ...state, rowAt, onWindow, rowsBetween, stop, again: start };
}

export type Running = ReturnType<typeof useRun>;
