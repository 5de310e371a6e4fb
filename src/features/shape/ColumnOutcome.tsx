"use client";

import { useMemo } from "react";
import { emptyQuery } from "@/core/query/empty";
import { storedColumns, type Table } from "@/core/schema/schema";
import * as edit from "@/core/shape/edit";
import type { ShapeColumn } from "@/core/shape/spec";
import type { ColumnSurvey, ShapeMade } from "@/core/shape/survey";
import { counted, writeCount } from "@/core/types/format";
import { BriefPopover } from "@/ui/Brief";
import { FormulaInput } from "../editors/NewFormula";
import { useLocale } from "../workspace/locale";
import type { LineProps } from "./lineProps";
import { WORDS } from "./words";

type OutcomeProps = Pick<LineProps, "spec" | "column" | "table" | "survey" | "made" | "problems" | "change"> & { named: string; isNew: boolean };

/** What becomes of rows that do not fit a column, with what can be chosen for them. */
export function ColumnOutcome({ spec, column, named, isNew, table, survey, made, problems, change }: OutcomeProps) {
  const locale = useLocale();
  const { id } = column;
  const set = (next: Partial<ShapeColumn>, said?: string) => change(edit.setColumn(spec, id, next), said);
  return (
    <div className="grid gap-1">
      {isNew && spec.table !== null && <span className="text-soft">{WORDS.isNew}</span>}
      {table && isNew && !column.lookup && (
        <FormulaLink {...{ column, table, named, problems }} write={(text) => change(edit.setFormula(spec, id, text), `formula ${id}`)} />
      )}
      <Misfits {...{ spec, column, named, survey, change }} />
      {table && column.misfits === "formula" && (
        <FormulaLink {...{ column, table, named, problems }} write={(text) => set({ formula: text }, `formula ${id}`)} />
      )}
      {made && <Made {...{ column, made, named, set }} />}
      {survey?.twoWays && (
        <span className="text-ochre">{WORDS.twoWays(counted(survey.twoWays.rows, "row", locale), survey.twoWays.values.slice(0, 2).join(", "))}</span>
      )}
      {((survey?.empty ?? 0) > 0 || column.fill !== undefined) && (
        <label className="flex items-center gap-1.5">
          {survey && survey.empty > 0 ? WORDS.emptyRows(counted(survey.empty, "row", locale)) : ""} {WORDS.fillWith}
          <input
            className="field w-24"
            aria-label={WORDS.fillOf(named)}
            value={column.fill ?? ""}
            onChange={(e) => set({ fill: e.target.value === "" ? undefined : e.target.value }, `fill ${id}`)}
          />
        </label>
      )}
      {survey && survey.doubled.rows > 0 && (
        <span className="text-vermilion">{WORDS.doubled(counted(survey.doubled.rows, "row", locale), survey.doubled.values.join(", "))}</span>
      )}
      {survey && survey.broken > 0 && <span className="text-vermilion">{WORDS.breakCheck(counted(survey.broken, "row", locale))}</span>}
    </div>
  );
}

/** The values that do not fit, and what becomes of them all, or of each. */
function Misfits({ spec, column, named, survey, change }: Pick<OutcomeProps, "spec" | "column" | "named" | "survey" | "change">) {
  const locale = useLocale();
  const { id } = column;
  const set = (next: Partial<ShapeColumn>) => change(edit.setColumn(spec, id, next));
  const mapped = new Map(column.mapped?.map((m) => [m.written, m.text]));
  const misfits: ColumnSurvey["misfits"] = survey?.misfits ?? { rows: 0, values: [] };
  const values: typeof misfits.values = [
    ...misfits.values,
    ...[...mapped.keys()].filter((w) => !misfits.values.some((v) => v.written === w)).map((written) => ({ written, why: "", rows: 0 })),
  ];
  const near = misfits.values.flatMap((v) => (v.near !== undefined && !mapped.has(v.written) ? [{ written: v.written, near: v.near }] : []));
  const chosen = edit.misfitsOf(spec, column);
  const ways = edit.waysOut(column);
  if (values.length === 0 && chosen !== "formula" && chosen !== "make") return null;
  return (
    <span className="flex flex-wrap items-center gap-2">
      {(misfits.rows > 0 || chosen === "formula" || chosen === "make") && ways.length > 1 && (
        <select
          className="field w-auto"
          aria-label={`${WORDS.whatBecomes}: ${named}`}
          value={chosen}
          onChange={(e) => set({ misfits: e.target.value as ShapeColumn["misfits"] })}
        >
          {ways.map((way) => (
            <option key={way} value={way}>
              {WORDS.misfits[way]}
            </option>
          ))}
        </select>
      )}
      <BriefPopover label={WORDS.lookAt(counted(values.length, "value", locale))} className="link">
        {() => (
          <div className="grid max-h-72 w-64 gap-1 overflow-y-auto text-small">
            <p className="caption">{column.lookup ? WORDS.noneFound : WORDS.valuesThatDoNotFit}</p>
            {near.length > 0 && (
              <button
                type="button"
                className="link justify-self-start"
                onClick={() => change(near.reduce((next, v) => edit.mapValue(next, id, v.written, v.near), spec))}
              >
                {WORDS.takeNear(counted(near.length, "near spelling", locale))}
              </button>
            )}
            {values.map((v) => (
              <label key={v.written} className="grid grid-cols-[minmax(0,1fr)_auto_6.5rem] items-center gap-2" title={v.why}>
                <span className="truncate">{v.written}</span>
                <span className="text-soft tabular-nums">{v.rows > 0 ? writeCount(v.rows, locale) : ""}</span>
                <input
                  className="field"
                  aria-label={WORDS.readAs(v.written)}
                  placeholder={v.near !== undefined ? WORDS.perhaps(v.near) : chosen === "empty" ? WORDS.misfits.empty : WORDS.newValue}
                  value={mapped.get(v.written) ?? ""}
                  onChange={(e) => change(edit.mapValue(spec, id, v.written, e.target.value), `map ${id} ${v.written}`)}
                />
              </label>
            ))}
          </div>
        )}
      </BriefPopover>
    </span>
  );
}

/** A formula that values are worked out by: what it says, and the field to write it. */
function FormulaLink({
  column: { formula = "" },
  table,
  named,
  problems,
  write,
}: Pick<OutcomeProps, "column" | "named" | "problems"> & { table: Table; write: (text: string) => void }) {
  const over = useMemo(() => ({ tables: [{ ...table, columns: storedColumns(table) }], links: [] }), [table]);
  const wrong = problems.get("formula");
  return (
    <BriefPopover
      label={formula || WORDS.formula}
      name={WORDS.formulaOf(named)}
      title={wrong ?? formula}
      className={`link max-w-56 truncate text-left font-mono text-small ${wrong ? "text-vermilion" : ""}`}
    >
      {() => (
        <div className="grid w-full gap-1">
          <FormulaInput spec={emptyQuery(table.name)} schema={over} text={formula} onChange={write} focused />
        </div>
      )}
    </BriefPopover>
  );
}

/** What is made so that a column can lead there; names whose rows have different values, with the choice between waiting and the most frequent. */
function Made({
  column: { lookup },
  made: { label, rows, differing },
  named,
  set,
}: Pick<OutcomeProps, "column" | "named"> & { made: ShapeMade; set: (next: Partial<ShapeColumn>) => void }) {
  const locale = useLocale();
  const own = lookup?.made;
  return (
    <span className="grid gap-1">
      <span>{own ? WORDS.newTableWith(label, counted(rows, "row", locale)) : WORDS.newRowsIn(label, counted(rows, "row", locale))}</span>
      {own && differing.names > 0 && (
        <span className="flex flex-wrap items-center gap-2">
          <BriefPopover label={WORDS.differing(writeCount(differing.names, locale))} className="link">
            {() => (
              <ul className="max-h-72 overflow-y-auto text-small">
                {differing.values.map((value) => (
                  <li key={value}>{value}</li>
                ))}
              </ul>
            )}
          </BriefPopover>
          <select
            className="field w-auto"
            aria-label={`${WORDS.differingTaken}: ${named}`}
            value={own.differing}
            onChange={(e) => lookup && set({ lookup: { ...lookup, made: { ...own, differing: e.target.value as typeof own.differing } } })}
          >
            <option value="refuse">{WORDS.misfits.refuse}</option>
            <option value="most">{WORDS.takeMost}</option>
          </select>
        </span>
      )}
    </span>
  );
}
