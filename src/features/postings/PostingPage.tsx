"use client";

import { useRouter } from "next/navigation";
import { useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { postingBrief, postingQuestion, stepOfPart } from "@/core/brief/postingBrief";
import { withArchive, withNextStep, withoutStep, withStep } from "@/core/posting/edit";
import { type OutcomeRow, type PostedBefore, rowsWritten, type StepTally, tallies, wouldDouble } from "@/core/posting/outcome";
import type { PostingSpec, PostingStep } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { type Problem, sentence } from "@/core/types/problem";
import type { Entry } from "@/server/posting/journal";
import type { Preview } from "@/server/posting/service";
import { Brief } from "@/ui/Brief";
import { Confirm } from "@/ui/Confirm";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { makeFile } from "../DeedsMenu";
import { phraseKey } from "../editors/phraseKey";
import { Link } from "../Link";
import { useAnswer } from "../useAnswer";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { JournalList } from "./JournalList";
import { makeArchive } from "./makeArchive";
import { OutcomeSheet } from "./OutcomeSheet";
import { Pairs } from "./Pairs";
import { PostingControls } from "./PostingControls";
import { PostingHead } from "./PostingHead";
import { PostingPhrase } from "./PostingPhrase";
import { PostingProof } from "./PostingProof";
import { StepTabs } from "./StepTabs";
import { usePreviewRows } from "./usePreviewRows";
import { WORDS } from "./words";

type Named = { id: string; name: string };
type Props = {
  saved: { id: string; name: string; spec: PostingSpec; revision: number };
  schema: Schema;
  journal: Entry[];
  drafts: Named[];
  queries: Named[];
};

/** A draft posting: its brief, which column goes where, what would become of every row; nothing is changed until it is posted. */
export function PostingPage({ saved, schema, journal, drafts, queries }: Props) {
  const router = useRouter();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("posting", "/postings", saved, spec, change);
  const [posted, setPosted] = useState<{ entry: Entry; spec: PostingSpec } | null>(null);
  /** The entry that this very description was posted as, while it is looked at. */
  const standing = posted?.spec === spec ? posted.entry : null;
  const [posting, setPosting] = useState(false);
  const steps = stepsOf(spec);
  const [chosen, setChosen] = useState(0);
  const at = Math.min(chosen, steps.length - 1);
  const step = steps[at] as PostingStep;
  const sources = useAnswer<{ table: Table; name: string; origin: string | null }[]>(
    "/api/postings/source",
    { steps: steps.map(({ source, action }) => ({ source, action })) },
    { settleMs: 0 },
  );
  const source = sources.answer?.[at] ?? null;
  const preview = useAnswer<Preview, { spec: PostingSpec }>("/api/postings/preview", { spec });
  const shown = preview.answer;
  /** Whether what is shown answers the control totals as they are now. */
  const current = JSON.stringify(preview.asked?.spec.controls) === JSON.stringify(spec.controls);
  const made = shown ? tallies(shown.tally) : [];
  const table = findTable(schema, step.target);
  const firstValues = useFirstValues(shown, at);
  const problems = preview.failure?.body.problems ?? [];
  const rows = made.reduce((sum, tally) => sum + rowsWritten(tally), 0);
  const twice = shown ? wouldDouble(shown.tally) : null;
  const controlled = shown?.checks.some((c) => !c.agrees) ?? false;

  async function post(): Promise<void> {
    if (!shown) return;
    setPosting(true);
    try {
      const entry = await ask<Entry>("/api/postings/post", { spec, name: object.stored.name, digest: shown.tally.digest, again: twice !== null });
      toast(WORDS.posted(entry.number));
      setPosted({ entry, spec });
      if (object.changed) await object.save();
      router.refresh();
      preview.again();
    } catch (error) {
      toast.error(sentenceOf(error));
      preview.again();
    }
    setPosting(false);
  }

  /** The archive that the rows of a step can be moved into, which is made when it is chosen. */
  function archiveFor(at: number) {
    const from = sources.answer?.[at];
    const origin = findTable(schema, from?.origin ?? "");
    if (!from || !origin) return null;
    const make = () =>
      makeArchive(origin, schema).then(
        (name) => {
          toast(WORDS.archiveMade(name));
          router.refresh();
          change(withArchive(spec, at, { name, origin, source: from.table, schema }));
        },
        (error) => void toast.error(sentenceOf(error)),
      );
    return { label: origin.label, make: () => void make() };
  }

  return (
    <div className="flex h-full">
      <nav aria-label={WORDS.journal} className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
        <JournalList journal={journal} drafts={drafts} here={`/postings/${object.stored.id}`} />
      </nav>
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <PostingHead
          object={object}
          history={{ undo, redo, canUndo, canRedo }}
          standing={standing}
          exportRows={(format) => makeFile("/api/postings/outcomes", { spec, name: object.stored.name }, format)}
        >
          {rows === 0 || controlled || preview.running || posting || !shown ? (
            <button type="button" className="button-primary" disabled>
              {posting ? WORDS.posting : WORDS.postButton}
            </button>
          ) : (
            <PostButton steps={made} twice={twice} schema={schema} post={() => void post()} />
          )}
        </PostingHead>
        <Brief
          phrases={postingBrief(spec, schema, sources.answer?.map((s) => s.name) ?? [])}
          keyOf={phraseKey}
          editor={(target, close) =>
            target.kind === "field" ? (
              <PostingPhrase {...stepOfPart(target.name)} {...{ spec, schema, queries, change, close }} archive={archiveFor(stepOfPart(target.name).step)} />
            ) : null
          }
        />
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
            {step.action === "move" && archiveFor(at) && (
              <button type="button" className="link" onClick={() => archiveFor(at)?.make()}>
                {WORDS.newArchive}
              </button>
            )}
          </Notice>
        )}
        {standing && <PostedNotice entry={standing} />}
        {controlled && <Notice tone="wrong">{WORDS.controlled}</Notice>}
        {twice && <Twice twice={twice} />}
        <div className="grid shrink-0">
          <StepTabs
            spec={spec}
            schema={schema}
            at={at}
            choose={setChosen}
            add={(target) => {
              change(withNextStep(spec, target, sources.answer?.[0]?.table ?? null, schema));
              setChosen(steps.length);
            }}
            remove={(step) => {
              change(withoutStep(spec, step));
              setChosen(step - 1);
            }}
          />
          <Pairs
            step={step}
            schema={schema}
            source={source?.table ?? null}
            sourceName={source?.name}
            firstValues={firstValues}
            nextNumber={made[at] ? (made[at].nextNumber ?? 0) - made[at].outcomes.add || null : null}
            change={(next) => change(withStep(spec, at, next))}
          />
        </div>
        {shown && <OutcomeSheet key={at} preview={shown} step={at} posted={standing !== null} />}
        {preview.running && <p className="appear-late text-small text-soft">{WORDS.workingOutThePreview}</p>}
      </section>
      <Margin
        parts={[
          {
            name: COMMON.proof,
            content: table ? (
              <div className="grid gap-5">
                <PostingProof tally={made[at] ?? null} table={table} action={step.action} />
                <PostingControls spec={spec} schema={schema} at={at} checks={current ? (shown?.checks ?? []) : []} change={change} />
              </div>
            ) : null,
          },
        ]}
      />
    </div>
  );
}

/** What is wrong; of several steps, in which. */
function problemOf(problem: Problem, steps: PostingStep[], schema: Schema): string {
  const target = steps[problem.path[0] === "steps" ? Number(problem.path[1]) + 1 : 0]?.target ?? "";
  return steps.length > 1 ? `${findTable(schema, target)?.label ?? target}: ${sentence(problem)}` : sentence(problem);
}

/** The values that the first row of a step's source would give, by the target's columns. */
function useFirstValues(shown: Preview | null, step: number): Map<string, string> {
  const locale = useLocale();
  const first = usePreviewRows<OutcomeRow>(shown?.id ?? null, { step, outcomes: [] });
  const row = first.rowAt(0);
  const rows = shown ? (tallies(shown.tally)[step]?.source ?? 0) : 0;
  useEffect(() => {
    if (!row && rows > 0) first.onWindow(0, 0);
  });
  return useMemo(
    () => new Map(shown?.pairs[step]?.map((p, i) => [p.column, cellWriter(p.type, p.format, locale)(row?.cells[i] ?? null).text]) ?? []),
    [shown, step, row, locale],
  );
}

type PostProps = { steps: StepTally[]; twice: PostedBefore | null; schema: Schema; post: () => void };

/** Posts, after it is said what becomes of the rows of each table. */
function PostButton({ steps, twice, schema, post }: PostProps) {
  const locale = useLocale();
  const rows = steps.reduce((sum, tally) => sum + rowsWritten(tally), 0);
  return (
    <Confirm label={WORDS.post(counted(rows, "row", locale))} button={twice ? WORDS.postAgain : WORDS.postButton} act={post}>
      {postingQuestion(steps, locale)}{" "}
      {steps.map(({ table, rowsBefore, rowsAfter }) => (
        <span key={table}>{WORDS.confirm(findTable(schema, table)?.label ?? table, writeCount(rowsBefore, locale), writeCount(rowsAfter, locale))} </span>
      ))}
      {twice && <Twice twice={twice} />}
    </Confirm>
  );
}

/** Says that the rows were posted before, with the way to it. */
function Twice({ twice: { number, at } }: { twice: PostedBefore }) {
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
