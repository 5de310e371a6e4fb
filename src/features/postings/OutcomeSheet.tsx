"use client";

import { useState } from "react";
import { OUTCOME_WORDS } from "@/core/posting/choices";
import { isWriting, type Outcome, type OutcomeRow, tallies } from "@/core/posting/outcome";
import { cellWriter, writeCount } from "@/core/types/format";
import { isMisfit, isNumber } from "@/core/types/valueType";
import type { Preview } from "@/server/services/posting/service";
import { Sheet } from "@/ui/Sheet";
import type { SheetCell } from "@/ui/sheetParts";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { changeText } from "./changeText";
import { usePreviewRows } from "./usePreviewRows";
import { WORDS } from "./words";

type Props = { preview: Preview; step: number; posted: boolean };

/** Every row of a step's source with what would become of it. @param posted it is posted already: what posting it once more would do */
export function OutcomeSheet({ preview, step, posted }: Props) {
  const locale = useLocale();
  const [only, setOnly] = useState<Outcome | null>(null);
  const { rowAt, onWindow } = usePreviewRows<OutcomeRow>(preview.id, { step, outcomes: only ? [only] : [] });
  const tally = tallies(preview.tally)[step];
  const pairs = preview.pairs[step] ?? [];
  const writers = pairs.map((p) => cellWriter(p.type, p.format, locale));
  // Among all rows the reason stands in the value it is about; among rows of one outcome it has a column.
  const withWhy = only !== null && ["refused", "repeated", "there"].includes(only);
  if (!tally) return null;
  const cellsOf = (row: OutcomeRow): SheetCell[] => {
    const faint = row.outcome !== "refused" && !isWriting(row.outcome);
    const why = row.why ?? (row.posting === null ? "" : WORDS.sincePosting(row.posting));
    const outcome: SheetCell = { text: OUTCOME_WORDS[row.outcome], tone: row.outcome === "refused" ? "negative" : faint ? "faint" : "agrees" };
    const values = row.cells.map((cell, i): SheetCell => {
      const write = writers[i];
      if (!write) return { text: "" };
      if (!withWhy && row.at === i && row.why) return { text: row.why.slice(row.why.indexOf(": ") + 2), tone: "negative" };
      const written = write(cell);
      const was = row.from && (isWriting(row.outcome) || row.outcome === "differs") ? write(row.from[i] ?? null).text : written.text;
      if (was === written.text) return { text: written.text, tone: isMisfit(cell) ? "misfit" : faint ? "faint" : undefined };
      return { text: changeText(was, written.text, row.outcome === "differs" ? "≠" : "→"), tone: row.outcome === "differs" ? undefined : "agrees" };
    });
    return [outcome, ...(withWhy ? [{ text: why, tone: row.outcome === "refused" ? ("negative" as const) : ("faint" as const) }] : []), ...values];
  };
  const present = (Object.keys(OUTCOME_WORDS) as Outcome[]).filter((o) => tally.outcomes[o] > 0);
  return (
    <div className="flex min-h-52 flex-1 flex-col gap-1">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="caption">{posted ? WORDS.ifPostedAgain : WORDS.preview}</h2>
        {present.length > 1 &&
          [null, ...present].map((o) => (
            <button
              key={o ?? "all"}
              type="button"
              aria-pressed={only === o}
              onClick={() => setOnly(o)}
              className="rounded-full border border-rule px-2 text-small text-soft aria-pressed:border-bottle aria-pressed:font-semibold aria-pressed:text-bottle"
            >
              {o ? OUTCOME_WORDS[o] : COMMON.all} {writeCount(o ? tally.outcomes[o] : tally.source, locale)}
            </button>
          ))}
      </div>
      <Sheet
        key={`${preview.id} ${step} ${only}`}
        label={WORDS.previewRowByRow}
        columns={[
          { id: "outcome", heading: WORDS.outcome, right: false, width: 124 },
          ...(withWhy ? [{ id: "why", heading: WORDS.reason, right: false, width: 220 }] : []),
          ...pairs.map((p) => ({
            id: p.column,
            heading: p.label,
            origin: p.found ? WORDS.lookedUp : "",
            right: isNumber(p.type),
            width: tally.outcomes.change + tally.outcomes.differs > 0 ? 170 : 120,
          })),
        ]}
        rowCount={only ? tally.outcomes[only] : tally.source}
        row={(index) => {
          const row = rowAt(index);
          return row && cellsOf(row);
        }}
        rowTone={(index) => {
          const outcome = rowAt(index)?.outcome;
          return outcome === "refused" ? "wrong" : outcome && isWriting(outcome) ? "agrees" : undefined;
        }}
        rowNumber={(index) => rowAt(index)?.n}
        footing={null}
        onWindow={onWindow}
        empty={<p className="px-14 py-6 text-soft">{WORDS.sourceEmpty(posted ? WORDS.anyMore : "")}</p>}
      />
    </div>
  );
}
