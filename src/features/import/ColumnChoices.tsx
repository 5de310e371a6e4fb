"use client";

import { samplesOf, scaleOfTally } from "@/core/import/propose";
import type { Clean, ImportColumn } from "@/core/import/spec";
import { DATE_ORDER_WORDS, DATE_ORDERS, type DateOrder } from "@/core/types/date";
import { writeCount } from "@/core/types/format";
import { isNumber, TYPE_WORDS, type ValueKind } from "@/core/types/valueType";
import type { Scan } from "@/server/jobs/import/scan";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { CleanUp } from "./CleanUp";
import { WORDS } from "./words";

type Props = {
  columns: ImportColumn[];
  scan: Scan;
  notFitting: number[];
  onChange: (next: ImportColumn[]) => void;
  onClean: (at: number, clean: Clean | undefined) => void;
};

/** Each column's name and type, how many of its values do not fit, and the first of those. */
export function ColumnChoices({ columns, scan, notFitting, onChange, onClean }: Props) {
  const locale = useLocale();
  const replace = (i: number, next: ImportColumn) => onChange(columns.map((c, k) => (k === i ? next : c)));
  const set = (i: number, next: Partial<ImportColumn>) => onChange(columns.map((c, k) => (k === i ? { ...c, ...next } : c)));
  const choose = (i: number, kind: ValueKind | "left") => {
    const tally = scan.columns[i]?.tally;
    if (kind === "left") set(i, { left: true });
    else set(i, { left: false, type: kind === "decimal" ? { kind, scale: tally ? scaleOfTally(tally, columns[i]?.affix) : 2 } : { kind } });
  };
  return (
    <div className="max-h-80 shrink-0 overflow-auto border border-rule bg-sheet">
      <table className="w-full">
        <thead className="sticky top-0 bg-sheet">
          <tr className="border-b border-ink text-left text-small">
            <th className="px-2.5 py-1.5">{WORDS.column}</th>
            <th className="px-2.5">{WORDS.type}</th>
            <th className="px-2.5" aria-label={WORDS.typeOptions} />
            <th className="px-2.5 text-right">{WORDS.filled}</th>
            <th className="px-2.5 text-right">{WORDS.invalid}</th>
            <th className="px-2.5">{WORDS.firstInvalidValue}</th>
          </tr>
        </thead>
        <tbody>
          {columns.map((c, i) => {
            const { tally } = scan.columns[i] ?? {};
            const samples = tally && !c.left ? samplesOf(tally, c) : [];
            return (
              <tr key={scan.names[i]} className={`border-b border-hairline ${c.left ? "text-faint" : ""}`}>
                <td className="px-1.5 py-1">
                  <input
                    className="field"
                    aria-label={WORDS.nameOfColumn(i + 1)}
                    disabled={c.left}
                    value={c.name}
                    onChange={(e) => set(i, { name: e.target.value })}
                  />
                </td>
                <td className="px-1.5">
                  <select
                    className="field w-auto"
                    aria-label={WORDS.typeOf(scan.names[i] ?? "")}
                    value={c.left ? "left" : c.type.kind}
                    onChange={(e) => choose(i, e.target.value as ValueKind | "left")}
                  >
                    {Object.entries(TYPE_WORDS).map(([kind, words]) => (
                      <option key={kind} value={kind}>
                        {words}
                      </option>
                    ))}
                    <option value="left">{WORDS.notImported}</option>
                  </select>
                </td>
                <td className="px-1.5">
                  {!c.left && (
                    <span className="flex flex-wrap items-center gap-x-2">
                      <TypeOptions column={c} name={scan.names[i] ?? ""} scanned={scan.columns[i]} set={(next) => replace(i, next)} />
                      <CleanUp name={scan.names[i] ?? ""} clean={c.clean} set={(clean) => onClean(i, clean)} />
                    </span>
                  )}
                </td>
                <td className="px-2.5 text-right text-soft">{tally ? writeCount(tally.filled, locale) : 0}</td>
                <td className={`px-2.5 text-right ${notFitting[i] ? "font-semibold text-vermilion" : "text-faint"}`}>
                  {writeCount(notFitting[i] ?? 0, locale)}
                </td>
                <td className="max-w-72 truncate px-2.5 text-small text-vermilion">
                  {(notFitting[i] ?? 0) > 0 && samples.map((s) => WORDS.firstInvalid(writeCount(s.row, locale), s.text)).join(", ")}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

type OptionsProps = { column: ImportColumn; name: string; scanned: Scan["columns"][number] | undefined; set: (next: ImportColumn) => void };

/** How the values of a column are read as its type: decimal places, what stands beside numbers, the order of dates. */
function TypeOptions({ column, name, scanned, set }: OptionsProps) {
  const { tally, proposal } = scanned ?? {};
  const affixes = Object.keys(tally?.affixed ?? {});
  function readWith(chosen: string): void {
    const { affix: _, ...plain } = column;
    const affix = chosen === "plain" ? undefined : chosen.slice("read ".length);
    const type = column.type.kind === "decimal" && tally ? { ...column.type, scale: scaleOfTally(tally, affix) } : column.type;
    set({ ...plain, type, ...(affix === undefined ? {} : { affix }) });
  }
  return (
    <span className="flex flex-wrap items-center gap-x-2 gap-y-1">
      {column.type.kind === "decimal" && (
        <label className="flex items-center gap-1 text-small text-soft">
          <input
            className="field w-14"
            type="number"
            min={1}
            max={12}
            value={column.type.scale}
            onChange={(e) => set({ ...column, type: { kind: "decimal", scale: Math.min(12, Math.max(1, Number(e.target.value))) } })}
          />
          {WORDS.decimalPlaces}
        </label>
      )}
      {isNumber(column.type) && affixes.length > 0 && (
        <select
          className="field w-auto"
          aria-label={WORDS.numbersIn(name)}
          value={column.affix === undefined ? "plain" : `read ${column.affix}`}
          onChange={(e) => readWith(e.target.value)}
        >
          <option value="plain">{WORDS.digitsOnly}</option>
          {affixes.map((affix) => (
            <option key={affix} value={`read ${affix}`}>
              {affix === "" ? WORDS.bracketsAndMinus : affix === "%" ? WORDS.withPercent : WORDS.withAffix(affix)}
            </option>
          ))}
        </select>
      )}
      {(column.type.kind === "date" || column.type.kind === "timestamp") && (
        <select
          className="field w-auto"
          aria-label={COMMON.dateOrderIn(name)}
          value={column.dates}
          onChange={(e) => set({ ...column, dates: e.target.value as DateOrder })}
        >
          {DATE_ORDERS.map((o) => (
            <option key={o} value={o}>
              {DATE_ORDER_WORDS[o]}
            </option>
          ))}
        </select>
      )}
      {proposal?.ambiguous && (column.type.kind === "date" || column.type.kind === "timestamp") && (
        <span className="pl-1 text-small text-ochre">{WORDS.dayAndMonthAreAmbiguous}</span>
      )}
    </span>
  );
}
