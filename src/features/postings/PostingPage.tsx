"use client";

import { useEffect, useMemo } from "react";
import { postingBrief, stepOfPart } from "@/core/brief/postingBrief";
import { withNextStep, withoutStep, withStep } from "@/core/posting/edit";
import { type OutcomeRow, tallies } from "@/core/posting/outcome";
import { findTable, type Schema } from "@/core/schema/schema";
import { cellWriter } from "@/core/types/format";
import type { Entry } from "@/server/jobs/posting/journal";
import type { Preview } from "@/server/services/posting/service";
import { Brief } from "@/ui/Brief";
import { Margin } from "@/ui/Margin";
import { makeFile } from "../DeedsMenu";
import { phraseKey } from "../editors/phraseKey";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { JournalList } from "./JournalList";
import { OutcomeSheet } from "./OutcomeSheet";
import { Pairs } from "./Pairs";
import { PostButton } from "./PostButton";
import { PostingControls } from "./PostingControls";
import { PostingHead } from "./PostingHead";
import { PostingNotices } from "./PostingNotices";
import { PostingPhrase } from "./PostingPhrase";
import { PostingProof } from "./PostingProof";
import { StepTabs } from "./StepTabs";
import { type SavedPosting, usePosting } from "./usePosting";
import { usePreviewRows } from "./usePreviewRows";
import { WORDS } from "./words";

type Named = { id: string; name: string };
type Props = {
  saved: SavedPosting;
  schema: Schema;
  journal: Entry[];
  drafts: Named[];
  queries: Named[];
};

/** A draft posting: its brief, which column goes where, what would become of every row; nothing is changed until it is posted. */
export function PostingPage({ saved, schema, journal, drafts, queries }: Props) {
  const state = usePosting(saved, schema);
  const { spec, change, object, steps, step, at, sources, source, preview, made } = state;
  const shown = preview.answer;
  const table = findTable(schema, step.target);
  const firstValues = useFirstValues(shown, at);

  return (
    <div className="flex h-full">
      <nav aria-label={WORDS.journal} className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
        <JournalList journal={journal} drafts={drafts} here={`/postings/${object.stored.id}`} />
      </nav>
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <PostingHead
          object={object}
          history={state.history}
          standing={state.standing}
          exportRows={(format) => makeFile("/api/postings/outcomes", { spec, name: object.stored.name }, format)}
        >
          {state.rows === 0 || state.controlled || preview.running || state.posting || !shown ? (
            <button type="button" className="button-primary" disabled>
              {state.posting ? WORDS.posting : WORDS.postButton}
            </button>
          ) : (
            <PostButton steps={made} twice={state.twice} schema={schema} post={() => void state.post()} />
          )}
        </PostingHead>
        <Brief
          phrases={postingBrief(spec, schema, sources.answer?.map((s) => s.name) ?? [])}
          keyOf={phraseKey}
          editor={(target, close) =>
            target.kind === "field" ? (
              <PostingPhrase
                {...stepOfPart(target.name)}
                {...{ spec, schema, queries, change, close }}
                archive={state.archiveFor(stepOfPart(target.name).step)}
              />
            ) : null
          }
        />
        <PostingNotices state={state} schema={schema} />
        <div className="grid shrink-0">
          <StepTabs
            spec={spec}
            schema={schema}
            at={at}
            choose={state.choose}
            add={(target) => {
              change(withNextStep(spec, target, sources.answer?.[0]?.table ?? null, schema));
              state.choose(steps.length);
            }}
            remove={(step) => {
              change(withoutStep(spec, step));
              state.choose(step - 1);
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
        {shown && <OutcomeSheet key={at} preview={shown} step={at} posted={state.standing !== null} />}
        {preview.running && <p className="appear-late text-small text-soft">{WORDS.workingOutThePreview}</p>}
      </section>
      <Margin
        parts={[
          {
            name: COMMON.proof,
            content: table ? (
              <div className="grid gap-5">
                <PostingProof tally={made[at] ?? null} table={table} action={step.action} />
                <PostingControls spec={spec} schema={schema} at={at} checks={state.checks} change={change} />
              </div>
            ) : null,
          },
        ]}
      />
    </div>
  );
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
