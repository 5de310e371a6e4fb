"use client";

import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import { toast } from "sonner";
import { postingBrief, postingQuestion } from "@/core/brief/postingBrief";
import type { PostingSpec } from "@/core/posting/spec";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import type { Entry } from "@/server/posting/journal";
import type { OutcomeRow } from "@/server/posting/outcome";
import type { Preview } from "@/server/posting/service";
import { Brief } from "@/ui/Brief";
import { Confirm } from "@/ui/Confirm";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { phraseKey } from "../editors/phraseKey";
import { Link } from "../Link";
import { SavedName } from "../SavedName";
import { UndoButtons } from "../UndoButtons";
import { useAnswer } from "../useAnswer";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { JournalList } from "./JournalList";
import { OutcomeSheet } from "./OutcomeSheet";
import { Pairs } from "./Pairs";
import { PostingPhrase } from "./PostingPhrase";
import { PostingProof, rowsWritten } from "./PostingProof";
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
  const locale = useLocale();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const { stored, changed: saves, save, remove, rename } = useSavedObject("posting", "/postings", saved, spec, change);
  const [posted, setPosted] = useState<{ entry: Entry; spec: PostingSpec } | null>(null);
  /** The entry that this very description was posted as, while it is looked at. */
  const standing = posted?.spec === spec ? posted.entry : null;
  const [posting, setPosting] = useState(false);
  const source = useAnswer<{ table: Table; name: string }>("/api/postings/source", { source: spec.source }, { settleMs: 0 });
  const preview = useAnswer<Preview>("/api/postings/preview", { spec });
  const shown = preview.answer;
  const table = findTable(schema, spec.target);
  const first = usePreviewRows<OutcomeRow>(shown?.id ?? null, []);
  const firstRow = first.rowAt(0);
  if (shown && !firstRow && shown.tally.source > 0) first.onWindow(0, 0);
  const firstValues = useMemo(
    () => new Map(shown?.pairs.map((p, i) => [p.column, cellWriter(p.type, p.format, locale)(firstRow?.cells[i] ?? null).text]) ?? []),
    [shown, firstRow, locale],
  );
  const problems = preview.failure?.body.problems ?? [];
  const rows = shown ? rowsWritten(shown.tally) : 0;

  async function post(): Promise<void> {
    if (!shown) return;
    setPosting(true);
    try {
      const entry = await ask<Entry>("/api/postings/post", { spec, name: stored.name, digest: shown.tally.digest });
      toast(WORDS.posted(entry.number));
      setPosted({ entry, spec });
      if (saves) await save();
      router.refresh();
      preview.again();
    } catch (error) {
      toast.error(sentenceOf(error));
      preview.again();
    }
    setPosting(false);
  }

  return (
    <div className="flex h-full">
      <nav aria-label={WORDS.journal} className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
        <JournalList journal={journal} drafts={drafts} here={`/postings/${stored.id}`} />
      </nav>
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
          <SavedName shared={false} id={stored.id} name={stored.name} onRename={rename} />
          <span className="text-small text-soft">{standing ? WORDS.postedAs2(standing.number) : WORDS.draftNothingChangedYet}</span>
          <span className="ml-auto flex gap-2">
            <UndoButtons {...{ undo, redo, canUndo, canRedo }} />
            <button type="button" className="button" onClick={() => void remove()} aria-label={WORDS.deleteDraft}>
              {COMMON.delete}
            </button>
            <button type="button" className="button" disabled={!saves} onClick={save}>
              {WORDS.saveDraft}
            </button>
            {rows === 0 || preview.running || posting || !shown || !table ? (
              <button type="button" className="button-primary" disabled>
                {posting ? WORDS.posting : WORDS.postButton}
              </button>
            ) : (
              <PostButton tally={shown.tally} table={table} post={() => void post()} />
            )}
          </span>
        </div>
        <Brief
          phrases={postingBrief(spec, schema, source.answer?.name ?? "…")}
          keyOf={phraseKey}
          editor={(target, close) =>
            target.kind === "field" ? <PostingPhrase name={target.name} spec={spec} schema={schema} queries={queries} change={change} close={close} /> : null
          }
        />
        {source.failure && <Notice tone="wrong">{source.failure.message}</Notice>}
        {preview.failure && problems.length === 0 && !source.failure && (
          <Notice tone="wrong">
            {preview.failure.message}{" "}
            <button type="button" className="link" onClick={preview.again}>
              {COMMON.tryAgain}
            </button>
          </Notice>
        )}
        {problems.length > 0 && (
          <Notice tone="look">
            {[...new Set(problems.map(sentence))].map((s) => (
              <p key={s}>{s}</p>
            ))}
          </Notice>
        )}
        {standing && <PostedNotice entry={standing} />}
        <Pairs
          spec={spec}
          schema={schema}
          source={source.answer?.table ?? null}
          firstValues={firstValues}
          nextNumber={shown ? (shown.tally.nextNumber ?? 0) - shown.tally.outcomes.add || null : null}
          change={change}
        />
        {shown && <OutcomeSheet preview={shown} posted={standing !== null} />}
        {preview.running && <p className="appear-late text-small text-soft">{WORDS.workingOutThePreview}</p>}
      </section>
      <Margin parts={[{ name: COMMON.proof, content: table ? <PostingProof tally={shown?.tally ?? null} table={table} action={spec.action} /> : null }]} />
    </div>
  );
}

/** Posts, after it is said what becomes of the rows. */
function PostButton({ tally, table, post }: { tally: Preview["tally"]; table: Table; post: () => void }) {
  const locale = useLocale();
  return (
    <Confirm label={WORDS.post(counted(rowsWritten(tally), "row", locale))} button={WORDS.postButton} act={post}>
      {WORDS.confirm(postingQuestion(tally.outcomes, locale), table.label, writeCount(tally.rowsBefore, locale), writeCount(tally.rowsAfter, locale))}
    </Confirm>
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
