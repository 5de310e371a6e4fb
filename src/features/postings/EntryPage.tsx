"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import { type StepTally, tallies } from "@/core/posting/outcome";
import { columnFormat } from "@/core/query/naming";
import { findTable, type Schema, storedColumns } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { isNumber } from "@/core/types/valueType";
import type { Entry } from "@/server/jobs/posting/journal";
import type { ReversalRow, TableReversal } from "@/server/jobs/posting/reverse";
import type { ReversalPreview } from "@/server/services/posting/service";
import { Confirm } from "@/ui/Confirm";
import { filled } from "@/ui/filled";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { Sheet } from "@/ui/Sheet";
import type { SheetCell } from "@/ui/sheetParts";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { JournalList } from "./JournalList";
import { Tab } from "./Tab";
import { usePreviewRows } from "./usePreviewRows";
import { WORDS } from "./words";

type Props = { entry: Entry; schema: Schema; journal: Entry[]; drafts: { id: string; name: string }[] };

/** One entry of the journal: what it changed, row by row, and the way back. */
export function EntryPage({ entry, schema, journal, drafts }: Props) {
  const router = useRouter();
  const locale = useLocale();
  const [force, setForce] = useState(false);
  const standing = entry.reversedBy === null;
  const { answer, failure, running } = useAnswer<ReversalPreview>("/api/postings/reversal", { number: entry.number, force }, { settleMs: 0 });
  const when = new Intl.DateTimeFormat(locale.locale, { timeZone: locale.zone, dateStyle: "long", timeStyle: "short" }).format(new Date(entry.at));

  async function takeBack(): Promise<void> {
    if (!answer) return;
    try {
      const done = await ask<Entry>("/api/postings/reverse", { number: entry.number, force, digest: answer.reversal.digest });
      toast(WORDS.reversedBy(entry.number, done.number));
      router.push(`/postings/entry/${done.number}`);
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
      router.refresh();
    }
  }

  return (
    <div className="flex h-full">
      <nav aria-label={WORDS.journal} className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
        <JournalList journal={journal} drafts={drafts} here={`/postings/entry/${entry.number}`} />
      </nav>
      <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4 pb-6">
        <div className="flex flex-wrap items-center gap-3">
          <PageHeading name={`#${entry.number} · ${entry.name}`} />
          <span className="text-small text-soft">
            {when}, {entry.by}
          </span>
          <span className="ml-auto">
            {standing && answer && answer.reversal.back > 0 && <TakeBack reversal={answer.reversal} act={() => void takeBack()} />}
          </span>
        </div>
        <p className="text-brief">{entry.brief}</p>
        {!standing && (
          <Notice tone="agrees">
            {filled(
              WORDS.reversedByEntry,
              <Link className="link" href={`/postings/entry/${entry.reversedBy}`}>
                #{entry.reversedBy}
              </Link>,
            )}
          </Notice>
        )}
        {standing && failure && <Notice tone="look">{failure.message}</Notice>}
        {standing && answer && answer.reversal.left > 0 && (
          <Notice tone="look">
            {counted(answer.reversal.left, "row", locale)} {answer.reversal.left === 1 ? "has" : "have"} {WORDS.changedSinceAndWouldNot}
            <label className="ml-3 inline-flex items-center gap-1.5">
              <input type="checkbox" className="accent-bottle" checked={force} onChange={(e) => setForce(e.target.checked)} />
              {WORDS.reverseThemToo}
            </label>
          </Notice>
        )}
        {standing && answer && answer.reversal.kept > 0 && <Notice tone="look">{WORDS.laterKept(counted(answer.reversal.kept, "row", locale))}</Notice>}
        {standing && answer && <ChangedTables answer={answer} schema={schema} />}
        {running && <p className="appear-late text-small text-soft">{WORDS.comparingWithTheCurrentTable}</p>}
      </section>
      <Margin parts={[{ name: COMMON.proof, content: <EntryProof entry={entry} schema={schema} /> }]} />
    </div>
  );
}

/** Takes an entry back, after it is said what becomes of its rows. */
function TakeBack({ reversal: { back, left }, act }: { reversal: ReversalPreview["reversal"]; act: () => void }) {
  const locale = useLocale();
  return (
    <Confirm label={WORDS.reversePosting} button={WORDS.reverse} act={act}>
      {WORDS.willReverse(counted(back, "change", locale), left > 0 ? WORDS.notReversed(writeCount(left, locale)) : "")}
    </Confirm>
  );
}

/** The rows that a step took, and those of its tables before and after. @param several of one step the table needs no name */
function aroundStep({ table, source, rowsBefore, rowsAfter, origin }: StepTally, several: boolean, schema: Schema): [string, number][] {
  const label = findTable(schema, table)?.label ?? table;
  return [
    [several ? WORDS.sourceFor(label) : WORDS.rowsInTheSource, source],
    [several ? WORDS.tableBeforeNamed(label) : WORDS.tableBefore, rowsBefore],
    [several ? WORDS.tableAfterNamed(label) : WORDS.tableAfter, rowsAfter],
    ...(origin
      ? ([
          [WORDS.tableBeforeNamed(origin.label), origin.before],
          [WORDS.tableAfterNamed(origin.label), origin.after],
        ] as [string, number][])
      : []),
  ];
}

/** What an entry did, in numbers. */
function EntryProof({ entry: { counts, tally }, schema }: { entry: Entry; schema: Schema }) {
  const locale = useLocale();
  const lines: [string, number][] = [
    [WORDS.rowsAdded, counts.add],
    [WORDS.rowsChanged, counts.change],
    [WORDS.rowsRemoved, counts.remove],
  ];
  const around = tally ? tallies(tally).flatMap((step) => aroundStep(step, tally.next !== undefined, schema)) : [];
  return (
    <table className="w-full">
      <tbody>
        {[...lines, ...around].map(([words, number], i) => (
          <tr key={words} className={i === lines.length ? "border-t border-ink" : ""}>
            <th scope="row" className="py-1 text-left font-normal">
              {words}
            </th>
            <td className="text-right">{writeCount(number, locale)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The tables of which an entry changed rows, one at a time. */
function ChangedTables({ answer, schema }: { answer: ReversalPreview; schema: Schema }) {
  const locale = useLocale();
  const [at, setAt] = useState(0);
  const { tables } = answer.reversal;
  const shown = tables[at];
  if (!shown) return null;
  return (
    <>
      {tables.length > 1 && (
        <div role="tablist" aria-label={WORDS.changes} className="-mb-3 flex flex-wrap gap-1">
          {tables.map(({ table, rows }, i) => (
            <Tab key={table} chosen={i === at} choose={() => setAt(i)}>
              {findTable(schema, table)?.label ?? table} {writeCount(rows, locale)}
            </Tab>
          ))}
        </div>
      )}
      <Changes key={shown.table} id={answer.id} step={at} counts={shown} alone={tables.length === 1} schema={schema} />
    </>
  );
}

/** The rows of a table that an entry changed, those that would be left first. */
function Changes({ id, step, counts, alone, schema }: { id: string; step: number; counts: TableReversal; alone: boolean; schema: Schema }) {
  const { table: name, rows, left, back } = counts;
  const locale = useLocale();
  const leftRows = usePreviewRows<ReversalRow>(id, { step, outcomes: ["left"], backwards: true });
  const backRows = usePreviewRows<ReversalRow>(id, { step, outcomes: ["back"], backwards: true });
  const table = findTable(schema, name);
  const columns = table ? storedColumns(table).filter((c) => !c.generated) : [];
  const writers = columns.map((c) => cellWriter(c.type, table ? columnFormat(schema, { table, column: c }) : {}, locale));
  const rowAt = (index: number) => (index < left ? leftRows.rowAt(index) : backRows.rowAt(index - left));
  const cellsOf = (row: ReversalRow): SheetCell[] => {
    const was = { add: "added", change: "changed", remove: "removed" }[row.was];
    return [
      { text: was, tone: row.outcome === "left" ? "negative" : "agrees" },
      ...(left > 0 ? [{ text: row.why ?? "", tone: "negative" as const }] : []),
      ...columns.map((_, i): SheetCell => {
        const write = writers[i];
        const now = row.now && write ? write(row.now[i] ?? null).text : null;
        const before = row.before && write ? write(row.before[i] ?? null).text : null;
        if (now !== null && before !== null && now !== before) return { text: `${before || "–"} → ${now || "–"}`, tone: "agrees" };
        return { text: now ?? before ?? "" };
      }),
    ];
  };
  return (
    <div className="flex min-h-52 flex-1 flex-col gap-1">
      {alone && <h2 className="caption">{WORDS.changes}</h2>}
      <Sheet
        label={WORDS.changes}
        columns={[
          { id: "was", heading: WORDS.changeMade, right: false, width: 90 },
          ...(left > 0 ? [{ id: "why", heading: WORDS.notReversedBecause, right: false, width: 200 }] : []),
          ...columns.map((c) => ({ id: c.name, heading: c.label, right: isNumber(c.type), width: 140 })),
        ]}
        rowCount={rows}
        row={(index) => {
          const row = rowAt(index);
          return row && cellsOf(row);
        }}
        rowTone={(index) => (index < left ? "wrong" : undefined)}
        footing={null}
        onWindow={(first, last) => {
          if (first < left) leftRows.onWindow(first, Math.min(last, left - 1));
          if (last >= left && back > 0) backRows.onWindow(Math.max(0, first - left), last - left);
        }}
        empty={<p className="px-14 py-6 text-soft">{WORDS.noRowsChanged}</p>}
      />
    </div>
  );
}
