"use client";

import * as edit from "@/core/shape/edit";
import type { ShapeColumn } from "@/core/shape/spec";
import { writeCount } from "@/core/types/format";
import { BriefPopover } from "@/ui/Brief";
import { useLocale } from "../workspace/locale";
import { CheckEditor } from "./CheckEditor";
import { ColumnOutcome } from "./ColumnOutcome";
import { ColumnType, LookupType } from "./ColumnType";
import { type LineProps, QUIET } from "./lineProps";
import { SaidOf } from "./SaidOf";
import { WORDS } from "./words";

/** One column of a table that is being changed: what it is to be, and what becomes of the rows that do not fit. */
export function ColumnLine({ spec, column, now, keyed, planned, schema, survey, made, problems, change, table }: LineProps) {
  const locale = useLocale();
  const { id } = column;
  const set = (next: Partial<ShapeColumn>, said?: string) => change(edit.setColumn(spec, id, next), said);
  const type = column.type ?? now?.column.type ?? planned?.column.type ?? { kind: "text" as const };
  const named = column.name.trim() || WORDS.isNew;
  const written = (kind: string) => now?.part?.constraints.filter((c) => c.kind === kind).map((c) => c.text) ?? [];
  const isKey = keyed.ids.includes(id);
  // The one column of a key is unique by that.
  const byKey = isKey && keyed.ids.length === 1;
  const isUnique = byKey || (column.different ?? written("unique").length > 0);
  const isRequired = column.required ?? now?.column.nullable === false;
  const fixed = now?.column.generated === true;
  const hint = (part: string) => problems.get(part);
  const field = (part: string) => `field w-full ${hint(part) ? "border-vermilion" : QUIET}`;
  const changed =
    planned !== undefined && (planned.value.kind !== "same" || Object.values(planned.edit).some((e) => e !== undefined) || column.from !== column.name.trim());
  const odd = (survey?.misfits.rows ?? 0) + (survey?.empty ?? 0) + (survey?.doubled.rows ?? 0) + (survey?.broken ?? 0);
  const check =
    planned?.check?.words ??
    (column.check === null
      ? ""
      : written("check")
          .join(" ")
          .replace(/^CONSTRAINT\s+\S+\s+/i, "")
          .replace(/^CHECK\s*/i, ""));
  return (
    <tr className={`border-b border-hairline align-top ${changed ? "bg-bottle-tint" : ""}`}>
      <td className="px-1 py-1">
        <input
          className={`${field("name")} min-w-24`}
          aria-label={WORDS.columnName(named)}
          title={hint("name")}
          value={column.name}
          onChange={(e) => set({ name: e.target.value }, `name ${id}`)}
        />
      </td>
      <td className="px-1 py-1">
        <span className="flex items-start gap-1">
          {column.lookup ? (
            <LookupType {...{ spec, column, schema, change }} lookup={column.lookup} />
          ) : (
            <ColumnType {...{ spec, column, now, schema, named, type, change }} wrong={hint("type")} className={field("type")} />
          )}
          <SaidOf column={column} now={now?.column} named={named} set={set} />
        </span>
      </td>
      <Tick label={WORDS.keyOf(named)} checked={isKey} change={() => change(edit.toggleKey(spec, id, keyed.now))} />
      <Tick label={WORDS.requiredOf(named)} disabled={fixed} checked={isRequired} change={(on) => set({ required: on })} />
      <Tick label={WORDS.differentOf(named)} disabled={fixed || byKey} checked={isUnique} change={(on) => set({ different: on })} />
      <td className="px-1 py-1">
        <input
          className={field("fallback")}
          aria-label={WORDS.defaultOf(named)}
          title={hint("fallback")}
          disabled={fixed}
          placeholder={
            column.fallback === undefined
              ? written("default")
                  .join("")
                  .replace(/^DEFAULT\s+/i, "")
              : undefined
          }
          value={column.fallback ?? ""}
          onChange={(e) => set({ fallback: e.target.value === "" ? (written("default").length > 0 ? null : undefined) : e.target.value }, `default ${id}`)}
        />
      </td>
      <td className="px-1 py-1.5">
        <BriefPopover
          label={check || "–"}
          name={WORDS.checkOf(named)}
          className={`link max-w-36 truncate text-left text-small ${hint("check") ? "text-vermilion" : ""}`}
          title={hint("check") ?? check}
        >
          {() => <CheckEditor column={column} others={spec.columns.filter((c) => c.id !== id)} change={(next) => set({ check: next }, `check ${id}`)} />}
        </BriefPopover>
      </td>
      <td className={`px-1 py-2 text-right tabular-nums ${odd > 0 ? "text-vermilion" : "text-soft"}`}>{survey ? writeCount(odd, locale) : ""}</td>
      <td className="px-1 py-1.5 text-small">
        <ColumnOutcome {...{ spec, column, named, table, survey, made, problems, change }} isNew={now === undefined} />
        {["fill", "mapped", "from", "lookup"].map(
          (part) =>
            hint(part) && (
              <p key={part} className="text-vermilion">
                {hint(part)}
              </p>
            ),
        )}
      </td>
      <td className={`sticky right-0 px-1 py-1 whitespace-nowrap ${changed ? "bg-bottle-tint" : "bg-sheet"}`}>
        <button type="button" className="small-button" aria-label={WORDS.moveUp(named)} onClick={() => change(edit.moveColumn(spec, id, -1))}>
          ↑
        </button>{" "}
        <button type="button" className="small-button" aria-label={WORDS.moveDown(named)} onClick={() => change(edit.moveColumn(spec, id, 1))}>
          ↓
        </button>{" "}
        <button type="button" className="small-button" aria-label={WORDS.removeColumn(named)} onClick={() => change(edit.removeColumn(spec, id))}>
          ×
        </button>
      </td>
    </tr>
  );
}

const Tick = ({ label, checked, disabled, change }: { label: string; checked: boolean; disabled?: boolean; change: (on: boolean) => void }) => (
  <td className="px-1 py-2 text-center">
    <input type="checkbox" className="accent-bottle" aria-label={label} disabled={disabled} checked={checked} onChange={(e) => change(e.target.checked)} />
  </td>
);
