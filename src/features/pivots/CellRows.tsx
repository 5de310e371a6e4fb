"use client";

import type { Plan } from "@/core/query/plan";
import { Notice } from "@/ui/Notice";
import { RowsAreCurrent } from "../AsOf";
import { QuerySheet } from "../queries/QuerySheet";
import type { Question } from "../queries/questions";
import { useRun } from "../queries/useRun";
import { WORDS } from "./words";

type Props = {
  question: Question;
  plan: Plan | null;
  words: string;
  name: string;
  /** The moment (ISO 8601) that the figure is of, where that is an earlier one. */
  asOf?: string | null | undefined;
  back: () => void;
};

/** The rows behind one figure, in their query's own columns, with their footing; and the way back. */
export function CellRows({ question, plan, words, name, asOf, back }: Props) {
  const run = useRun(plan ? question : null, plan);
  return (
    <>
      <Notice tone="look">
        <span className="flex items-center justify-between gap-3">
          <span>
            {WORDS.rowsBehind} <b>{words}</b>.<RowsAreCurrent moment={asOf} />
          </span>
          <button type="button" className="link whitespace-nowrap" onClick={back}>
            {WORDS.back}
          </button>
        </span>
      </Notice>
      {run.failure && <Notice tone="wrong">{run.failure.message}</Notice>}
      {run.shown ? <QuerySheet plan={run.shown.plan} run={run} name={name} behind={question} /> : <div className="mb-9 flex-1 border border-rule bg-sheet" />}
    </>
  );
}
