"use client";

import { useState } from "react";
import { toast } from "sonner";
import type { Asked } from "@/core/page/asked";
import type { SearchSpec } from "@/core/page/spec";
import { writtenOut } from "@/core/posting/coerce";
import { onTheRight, type ShownColumn, shownWriter } from "@/core/query/shownColumn";
import { counted, writeCount } from "@/core/types/format";
import { withUnit } from "@/core/types/unit";
import { type Cell, isMisfit } from "@/core/types/valueType";
import type { Details, DetailsPanel } from "@/server/services/pages/answer";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { tdsWriter } from "../CellTds";
import { ValueInput } from "../editors/ValueInput";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { Asking } from "./asking";
import { WORDS } from "./words";

type Props = {
  asking: Asking;
  asked: Asked;
  /** Its place among what was found. */
  at: number;
  /** The mark it had there; undefined where one came to it from the row beside it. */
  mark: string | undefined;
  count: number;
  go: (at: number) => void;
  back: () => void;
  changes: { may: NonNullable<SearchSpec["changes"]>; path: string } | null;
};

/** One row that was found, with what was chosen of it and of what belongs to it; fields that may be changed are typed over. */
export function DetailsView({ asking, asked, at, mark, count, go, back, changes }: Props) {
  const locale = useLocale();
  const {
    answer: details,
    asked: answered,
    failure,
    again,
  } = useAnswer<Details>(asking.path, { ...asking.with, question: { ask: "details", asked, at, mark } }, { settleMs: 0 });
  async function send(change: object, done: string): Promise<boolean> {
    if (!changes || !details) return false;
    try {
      await ask(changes.path, { asked, at, mark: details.mark, change });
      toast(done);
      return true;
    } catch (error) {
      toast.error(sentenceOf(error));
      return false;
    }
  }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      <div className="flex flex-wrap items-center gap-3">
        <button type="button" className="link" onClick={back}>
          {WORDS.backToTheResults}
        </button>
        <span className="ml-auto flex items-center gap-2">
          <button type="button" className="button" aria-label={COMMON.previousRow} disabled={at === 0} onClick={() => go(at - 1)}>
            ‹
          </button>
          <span className="text-small text-soft">{COMMON.partOf(writeCount(at + 1, locale), writeCount(count, locale))}</span>
          <button type="button" className="button" aria-label={WORDS.nextRow} disabled={at + 1 >= count} onClick={() => go(at + 1)}>
            ›
          </button>
          {changes?.may.remove && <RemoveRow remove={() => void send({ kind: "remove" }, WORDS.rowRemovedItCanBe).then((done) => done && back())} />}
        </span>
      </div>
      {failure && <Notice tone="wrong">{failure.message}</Notice>}
      {details && (
        <dl
          className="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-x-8 border-t border-b-[3px] border-ink py-2 [border-bottom-style:double]"
          data-testid="details"
        >
          {details.columns.map((c, i) => (
            <div key={c.id} className="flex items-baseline justify-between gap-3 border-b border-hairline py-1">
              <dt className="shrink-0 text-small text-soft">{c.heading}</dt>
              <dd className="text-right">
                {changes?.may.columns.includes(c.id) ? (
                  <Changed
                    key={JSON.stringify([answered, details.cells[i]])}
                    column={c}
                    cell={details.cells[i] ?? null}
                    set={(text, was) => send({ kind: "set", column: c.id, text, was }, WORDS.changed(c.heading)).then((done) => done && again())}
                  />
                ) : (
                  <Value column={c} cell={details.cells[i] ?? null} />
                )}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {details?.panels.map((panel) => (
        <Panel key={panel.title} panel={panel} />
      ))}
    </div>
  );
}

function Value({ column, cell }: { column: ShownColumn; cell: Cell }) {
  const written = shownWriter(column, useLocale())(cell);
  return (
    <span className={written.negative || written.misfit ? "text-vermilion" : ""}>
      {written.text || "–"} {column.unit && written.text ? <span className="text-small text-soft">{column.unit}</span> : null}
    </span>
  );
}

function Changed({ column, cell, set }: { column: ShownColumn; cell: Cell; set: (text: string, was: string | null) => Promise<unknown> }) {
  const was = cell === null ? null : isMisfit(cell) ? cell.misfit : writtenOut(cell, column.type);
  const [text, setText] = useState(was ?? "");
  const changed = text !== (was ?? "");
  return (
    <form
      className="flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (changed) void set(text, was);
      }}
    >
      <ValueInput type={column.type} label={column.heading} value={text} onChange={setText} />
      <button type="submit" className="button" disabled={!changed}>
        {COMMON.save}
      </button>
    </form>
  );
}

function RemoveRow({ remove }: { remove: () => void }) {
  const [sure, setSure] = useState(false);
  return sure ? (
    <button type="button" className="button font-semibold text-vermilion" onClick={remove}>
      {WORDS.removeThisRow}
    </button>
  ) : (
    <button type="button" className="button text-vermilion" onClick={() => setSure(true)}>
      {WORDS.remove}
    </button>
  );
}

function Panel({ panel }: { panel: DetailsPanel }) {
  const locale = useLocale();
  const tds = tdsWriter(panel.columns, locale, "border-r border-column px-2.5 py-1");
  return (
    <section>
      <h2 className="pb-1 font-serif text-[1.125rem] font-semibold">
        {panel.title}{" "}
        <span className="font-sans text-small font-normal text-soft">
          {panel.count > panel.rows.length
            ? COMMON.partOf(writeCount(panel.rows.length, locale), writeCount(panel.count, locale))
            : counted(panel.count, "row", locale)}
        </span>
      </h2>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard (WCAG 2.1.1) */}
      <section className="overflow-x-auto border border-rule bg-sheet" aria-label={panel.title} tabIndex={0}>
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink text-small">
              {panel.columns.map((c) => (
                <th key={c.id} scope="col" className={`border-r border-column px-2.5 py-1.5 ${onTheRight(c) ? "text-right" : "text-left"}`}>
                  {withUnit(c.heading, c.unit)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {panel.rows.map((row, i) => (
              <tr key={`row ${i}`} className="border-b border-hairline">
                {tds(row)}
              </tr>
            ))}
            {panel.rows.length === 0 && (
              <tr>
                <td className="px-2.5 py-2 text-soft" colSpan={panel.columns.length}>
                  {COMMON.noRows}
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </section>
    </section>
  );
}
