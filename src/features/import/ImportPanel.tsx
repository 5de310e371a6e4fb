"use client";

import { DOUBLED_RULES, DOUBLED_WORDS, type DoubledRule, MISFIT_RULES, MISFIT_WORDS } from "@/core/import/choices";
import type { ImportColumn, ImportSpec } from "@/core/import/spec";
import { writeCount } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { Tick } from "../editors/parts";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Props = {
  rows: number | null;
  columns: ImportColumn[];
  notFitting: number[];
  misfits: ImportSpec["misfits"];
  onMisfits: (next: ImportSpec["misfits"]) => void;
  once: boolean;
  onOnce: (next: boolean) => void;
  into: ImportSpec["into"];
  onInto: (next: ImportSpec["into"]) => void;
  tables: { name: string; label: string }[];
};

/** What comes in, what becomes of what does not fit, and where it goes. */
export function ImportPanel({ rows, columns, notFitting, misfits, onMisfits, once, onOnce, into, onInto, tables }: Props) {
  const locale = useLocale();
  const wrong = notFitting.reduce((a, b) => a + b, 0);
  const left = columns.filter((c) => c.left).length;
  const line = (label: string, figure: number | null, style = "") => (
    <tr className={style}>
      <th scope="row" className="py-1 text-left font-normal">
        {label}
      </th>
      <td className="py-1 text-right">{figure === null ? "—" : writeCount(figure, locale)}</td>
    </tr>
  );
  return (
    <div className="grid gap-4">
      <table className="w-full">
        <tbody>
          {line(WORDS.rowsInTheFile, rows)}
          {line(WORDS.columnsImported, rows === null ? null : columns.length - left)}
          {left > 0 && line(WORDS.columnsNotImported, left, "text-soft")}
          {line(WORDS.invalidValues2, rows === null ? null : wrong, `border-t border-ink ${wrong > 0 ? "font-semibold text-vermilion" : ""}`)}
        </tbody>
      </table>
      {wrong > 0 && (
        <fieldset className="grid gap-1">
          <legend className="caption pb-1">{WORDS.invalidValues}</legend>
          {MISFIT_RULES.map((rule) => (
            <label key={rule} className="flex gap-2">
              <input type="radio" name="misfits" className="accent-bottle" checked={misfits === rule} onChange={() => onMisfits(rule)} />
              {MISFIT_WORDS[rule]}
            </label>
          ))}
        </fieldset>
      )}
      <Tick checked={once} set={onOnce}>
        {WORDS.skipRepeated}
      </Tick>
      <fieldset className="grid gap-2">
        <legend className="caption pb-1">{WORDS.destination}</legend>
        <label className="flex gap-2">
          <input
            type="radio"
            name="into"
            className="accent-bottle"
            checked={into.kind === "table"}
            onChange={() => onInto({ kind: "table", name: "new_table", key: null })}
          />
          {WORDS.newTable}
        </label>
        {into.kind === "table" && <NewTable into={into} columns={columns} onInto={onInto} />}
        <label className="flex gap-2">
          <input
            type="radio"
            name="into"
            className="accent-bottle"
            checked={into.kind === "posting"}
            onChange={() => onInto({ kind: "posting", target: tables[0]?.name ?? "" })}
          />
          {WORDS.existingTableReviewedAsA}
        </label>
        {into.kind === "posting" && (
          <select
            className="field ml-5 w-[calc(100%-1.25rem)]"
            aria-label={WORDS.existingTable}
            value={into.target}
            onChange={(e) => onInto({ kind: "posting", target: e.target.value })}
          >
            {tables.map((t) => (
              <option key={t.name} value={t.name}>
                {t.label}
              </option>
            ))}
          </select>
        )}
      </fieldset>
      <Notice tone="look">{WORDS.allOrNone(into.kind === "table" ? WORDS.theImportIsAnEntry : WORDS.previewFirst)}</Notice>
    </div>
  );
}

type NewTableProps = { into: Extract<ImportSpec["into"], { kind: "table" }>; columns: ImportColumn[]; onInto: Props["onInto"] };

/** The name and the key of a table that is made of a file, and what becomes of rows whose key stands there already. */
const NewTable = ({ into, columns, onInto }: NewTableProps) => (
  <div className="grid gap-2 pl-5">
    <input className="field" aria-label={WORDS.tableName} value={into.name} onChange={(e) => onInto({ ...into, name: e.target.value })} />
    <label className="grid gap-0.5 text-small">
      {WORDS.keyTheColumnThatIdentifies}
      <select className="field" aria-label={COMMON.key} value={into.key ?? ""} onChange={(e) => onInto({ ...into, key: e.target.value || null })}>
        <option value="">{COMMON.none}</option>
        {columns
          .filter((c) => !c.left)
          .map((c) => (
            <option key={c.name} value={c.name}>
              {c.name}
            </option>
          ))}
      </select>
    </label>
    {into.key !== null && (
      <label className="grid gap-0.5 text-small">
        {WORDS.keyAgain}
        <select
          className="field"
          aria-label={WORDS.keyAgain}
          value={into.doubled ?? "refuse"}
          onChange={(e) => onInto({ ...into, doubled: e.target.value as DoubledRule })}
        >
          {DOUBLED_RULES.map((rule) => (
            <option key={rule} value={rule}>
              {DOUBLED_WORDS[rule]}
            </option>
          ))}
        </select>
      </label>
    )}
  </div>
);
