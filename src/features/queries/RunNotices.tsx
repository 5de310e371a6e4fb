import { type Problem, sentence } from "@/core/types/problem";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../words";
import type { Running } from "./useRun";
import { WORDS } from "./words";

/** Why a query has no rows to show: what is wrong with it, what failed, or that it was stopped. */
export function RunNotices({ problems, run, behind }: { problems: Problem[]; run: Running /** The rows in sight are those of before. */; behind: boolean }) {
  const again = (words: string) => (
    <button type="button" className="link" onClick={run.again}>
      {words}
    </button>
  );
  return (
    <>
      {problems.length > 0 && (
        <Notice tone="wrong">
          {[...new Set(problems.map((p) => sentence(p)))].map((s) => (
            <p key={s}>{s}</p>
          ))}
          {behind && <p className="text-soft">{WORDS.rowsFromBefore}</p>}
        </Notice>
      )}
      {run.failure && run.failure.body.problems.length === 0 && (
        <Notice tone="wrong">
          {run.failure.message} {again(COMMON.tryAgain)}
        </Notice>
      )}
      {run.stopped && (
        <Notice tone="look">
          {WORDS.stopped} {again(COMMON.runAgain)}
        </Notice>
      )}
    </>
  );
}
