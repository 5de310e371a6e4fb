"use client";

import type { PostedBefore } from "@/core/posting/outcome";
import type { PostingStep } from "@/core/posting/spec";
import { findTable, type Schema } from "@/core/schema/schema";
import { counted } from "@/core/types/format";
import { type Problem, sentence } from "@/core/types/problem";
import type { Entry } from "@/server/jobs/posting/journal";
import { Notice } from "@/ui/Notice";
import { Link } from "../Link";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { usePosting } from "./usePosting";
import { WORDS } from "./words";

/** What stands in the way of a posting, or was done already, each with its remedy. */
export function PostingNotices({ state, schema }: { state: ReturnType<typeof usePosting>; schema: Schema }) {
  const { sources, preview, steps, step, at, standing, controlled, twice, archiveFor } = state;
  const problems = preview.failure?.body.problems ?? [];
  const archive = step.action === "move" ? archiveFor(at) : null;
  return (
    <>
      {sources.failure && <Notice tone="wrong">{sources.failure.message}</Notice>}
      {preview.failure && problems.length === 0 && !sources.failure && (
        <Notice tone="wrong">
          {preview.failure.message}{" "}
          <button type="button" className="link" onClick={preview.again}>
            {COMMON.tryAgain}
          </button>
        </Notice>
      )}
      {problems.length > 0 && (
        <Notice tone="look">
          {[...new Set(problems.map((p) => problemOf(p, steps, schema)))].map((s) => (
            <p key={s}>{s}</p>
          ))}
          {archive && (
            <button type="button" className="link" onClick={archive.make}>
              {WORDS.newArchive}
            </button>
          )}
        </Notice>
      )}
      {standing && <PostedNotice entry={standing} />}
      {controlled && <Notice tone="wrong">{WORDS.controlled}</Notice>}
      {twice && <Twice twice={twice} />}
    </>
  );
}

/** What is wrong; of several steps, in which. */
function problemOf(problem: Problem, steps: PostingStep[], schema: Schema): string {
  const target = steps[problem.path[0] === "steps" ? Number(problem.path[1]) + 1 : 0]?.target ?? "";
  return steps.length > 1 ? `${findTable(schema, target)?.label ?? target}: ${sentence(problem)}` : sentence(problem);
}

/** Says that the rows were posted before, with the way to it. */
export function Twice({ twice: { number, at } }: { twice: PostedBefore }) {
  const locale = useLocale();
  const when = new Intl.DateTimeFormat(locale.locale, { timeZone: locale.zone, dateStyle: "medium" }).format(new Date(at));
  return (
    <Notice tone="wrong">
      {WORDS.postedBefore(number, when)}{" "}
      <Link className="link" href={`/postings/entry/${number}`}>
        {WORDS.seeTheChanges}
      </Link>
    </Notice>
  );
}

/** Says what was posted, with the way to it; what stands below is of another posting. */
function PostedNotice({ entry }: { entry: Entry }) {
  const locale = useLocale();
  const { add, change, remove } = entry.counts;
  const parts = [
    [add, "added"],
    [change, "changed"],
    [remove, "removed"],
  ] as const;
  const words = parts.filter(([n]) => n > 0).map(([n, done]) => `${counted(n, "row", locale)} ${done}`);
  return (
    <Notice tone="agrees">
      <b>{WORDS.postedAsColon(entry.number)}</b> {words.join(", ")}.{" "}
      <Link className="link" href={`/postings/entry/${entry.number}`}>
        {WORDS.seeTheChanges}
      </Link>
    </Notice>
  );
}
