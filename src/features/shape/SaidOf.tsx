"use client";

import type { Column } from "@/core/schema/schema";
import type { ShapeColumn } from "@/core/shape/spec";
import { BriefPopover } from "@/ui/Brief";
import { UnitChoices } from "../editors/UnitChoices";
import { WORDS } from "./words";

type Props = { column: ShapeColumn; now: Column | undefined; named: string; set: (next: Partial<ShapeColumn>, said?: string) => void };

/** What is said of a column: its unit or currency, and a description. */
export function SaidOf({ column, now, named, set }: Props) {
  const unit = column.unit === undefined ? (now?.unit ?? "") : (column.unit ?? "");
  const note = column.note === undefined ? (now?.note ?? "") : (column.note ?? "");
  /** What is no other than it was is not said. */
  const given = (value: string, was: string | undefined) => (value === (was ?? "") ? undefined : value || null);
  const units = `units of ${column.id}`;
  return (
    <BriefPopover
      label={unit || WORDS.unitAndNote}
      name={WORDS.unitAndNoteOf(named)}
      title={note || undefined}
      className={`shrink-0 py-2 text-left text-tiny ${unit || note ? "text-soft" : "text-faint"} hover:text-bottle`}
    >
      {() => (
        <div className="grid gap-2 text-small">
          <label className="grid gap-0.5">
            {WORDS.unit}
            <input
              className="field"
              list={units}
              aria-label={WORDS.unitOf(named)}
              maxLength={20}
              value={unit}
              onChange={(e) => set({ unit: given(e.target.value, now?.unit) }, `unit ${column.id}`)}
            />
            <UnitChoices id={units} />
          </label>
          <label className="grid gap-0.5">
            {WORDS.note}
            <textarea
              className="field h-16"
              aria-label={WORDS.noteOf(named)}
              maxLength={1000}
              value={note}
              onChange={(e) => set({ note: given(e.target.value, now?.note) }, `note ${column.id}`)}
            />
          </label>
        </div>
      )}
    </BriefPopover>
  );
}
