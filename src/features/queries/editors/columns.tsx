"use client";

import { useMemo, useState } from "react";
import { figureConditionsBrief } from "@/core/brief/brief";
import { withoutCondition } from "@/core/brief/editPhrase";
import { AGGREGATES, aggregateOf, figureStart, figureWords, needsBy } from "@/core/query/aggregates";
import { AGGREGATE_NAMES, type AggregateName, BACK_NAMES, type BackName, WINDOW_NAMES, type WindowName } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import { namesSomething } from "@/core/query/naming";
import { operandWords } from "@/core/query/operands";
import type { PlanColumn } from "@/core/query/plan";
import { ownColumns, reachable, scopeOf, withReached } from "@/core/query/reach";
import { plannedColumn } from "@/core/query/resolve";
import { MOVING_ROWS } from "@/core/query/resolveWindow";
import type { Operand, QueryColumn, QuerySpec } from "@/core/query/spec";
import { BACK_WORDS, WINDOWS } from "@/core/query/windows";
import { findColumn, findTable } from "@/core/schema/schema";
import { DATE_PART_WORDS, DATE_PARTS, GROUP_PART_WORDS, GROUP_PARTS } from "@/core/types/date";
import { isDated, isNumber } from "@/core/types/valueType";
import { Brief } from "@/ui/Brief";
import { filled } from "@/ui/filled";
import { onEnter } from "@/ui/onEnter";
import { DigitsInput } from "../../editors/DigitsInput";
import { PercentInput } from "../../editors/PercentInput";
import { Choice, type EditorProps, FieldPicker, Remove } from "../../editors/parts";
import { phraseKey } from "../../editors/phraseKey";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { ConditionPhraseEditor } from "./conditions";

/** One group: its heading and place, the part of a date, or away with it. */
export function GroupEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const column = spec.columns.find((c) => c.id === id);
  if (!column) return null;
  const scope = scopeOf(spec, schema);
  const groupWords = (group: QueryColumn | undefined) => group?.label ?? operandWords(group?.value ?? null, scope);
  const value = column.value;
  const type = value && edit.operandTypeIn(spec, schema, value);
  const groups = spec.columns.filter((c) => !c.figure);
  const at = groups.indexOf(column);
  return (
    <>
      <HeadingInput column={column} set={(next) => change(edit.changeColumn(spec, id, next))} />
      {at > 0 && <Choice onClick={() => change(edit.moveColumn(spec, id, -1))}>{WORDS.moveBefore(groupWords(groups[at - 1]))}</Choice>}
      {at < groups.length - 1 && <Choice onClick={() => change(edit.moveColumn(spec, id, 1))}>{WORDS.moveAfter(groupWords(groups[at + 1]))}</Choice>}
      {type && isDated(type) && value?.kind === "field" && (
        <>
          <p className="caption pt-2 pb-1">{COMMON.by}</p>
          {GROUP_PARTS.map((part) => (
            <Choice
              key={part}
              chosen={value.part === part}
              onClick={() => {
                change(edit.changeColumn(spec, id, { value: { ...value, part } }));
                close();
              }}
            >
              {GROUP_PART_WORDS[part]}
            </Choice>
          ))}
        </>
      )}
      {type && isNumber(type) && value?.kind === "field" && (
        <label className="grid gap-0.5 text-small">
          {WORDS.bandWidthEmptyEachNumber}
          <input
            className="field"
            inputMode="decimal"
            defaultValue={value.band?.width ?? ""}
            onBlur={(e) =>
              change(edit.changeColumn(spec, id, { value: { ...value, band: e.target.value.trim() ? { width: e.target.value.trim() } : undefined } }))
            }
            onKeyDown={onEnter(close)}
          />
        </label>
      )}
      <Remove
        onClick={() => {
          change(edit.removeColumns(spec, [id]));
          close();
        }}
      >
        {WORDS.removeFromGroups}
      </Remove>
      <Remove
        onClick={() => {
          change(edit.ungroup(spec));
          close();
        }}
      >
        {WORDS.removeGrouping}
      </Remove>
    </>
  );
}

/** The columns of a query, or its figures where rows are grouped. */
export function ColumnsEditor(props: EditorProps) {
  const { spec, schema, change } = props;
  const scope = scopeOf(spec, schema);
  const [open, setOpen] = useState<string | null>(null);
  const shown = spec.grouped ? spec.columns.filter((c) => c.figure) : spec.columns;
  return (
    <>
      <p className="caption pb-1">{spec.grouped ? COMMON.figures : COMMON.columns}</p>
      <ul>
        {shown.map((column) => (
          <li key={column.id} className="border-b border-hairline py-1">
            <div className="flex items-center gap-1">
              <button
                type="button"
                aria-expanded={open === column.id}
                onClick={() => setOpen(open === column.id ? null : column.id)}
                className={`min-w-0 flex-1 truncate text-left ${column.hidden ? "text-soft line-through" : ""}`}
              >
                {column.label ??
                  (column.figure && column.figure !== "formula" ? `${column.value ? WORDS.figureOf(figureWords(column.figure)) : COMMON.countOfRows}` : "")}
                {!column.label && column.value ? operandWords(column.value, scope) : ""}
              </button>
              <button type="button" aria-label={WORDS.moveUp} onClick={() => change(edit.moveColumn(spec, column.id, -1))} className="small-button">
                ↑
              </button>
              <button type="button" aria-label={WORDS.moveDown} onClick={() => change(edit.moveColumn(spec, column.id, 1))} className="small-button">
                ↓
              </button>
              <button
                type="button"
                aria-label={WORDS.removeColumn}
                onClick={() => change(edit.removeColumns(spec, [column.id]))}
                className="small-button text-vermilion"
              >
                ×
              </button>
            </div>
            {open === column.id && <ColumnSettings {...props} column={column} />}
          </li>
        ))}
      </ul>
      <span className="flex flex-wrap gap-x-4">
        {!spec.grouped && <AddFormula {...props} />}
        <AddFigure {...props} />
      </span>
    </>
  );
}

type BesideProps = Pick<EditorProps, "spec" | "schema"> & { column: QueryColumn; set: (next: Partial<QueryColumn>) => void; numbers: boolean };

/** What a figure needs beside its field: the order of its values, their weight, a percentage, what stands between them. */
function BesideFigure({ spec, schema, column, set, numbers }: BesideProps) {
  const { order, weighs, percent } = aggregateOf(column.figure) ?? {};
  const fields = reachable(spec, schema, 0)
    .filter((f) => !weighs || isNumber(f.type))
    .map((f) => ({ words: f.words, operand: withReached(spec, f).operand }));
  const by = column.by?.kind === "field" ? column.by : null;
  const at = fields.findIndex((f) => f.operand.join === by?.join && f.operand.column === by.column);
  const label = weighs ? COMMON.weighedBy : COMMON.inOrderOf;
  return (
    <>
      {(order || weighs) && (
        <label className="grid gap-0.5 text-small">
          {label}
          <select className="field" aria-label={label} value={at} onChange={(e) => set({ by: fields[Number(e.target.value)]?.operand })}>
            <option value={-1}>{order === "possible" ? COMMON.itsValues : WORDS.chooseAField}</option>
            {fields.map((f, i) => (
              <option key={f.words} value={i}>
                {f.words}
              </option>
            ))}
          </select>
        </label>
      )}
      {percent && <PercentInput value={column.percent} set={(next) => set({ percent: next })} />}
      {column.figure === "list" && (
        <label className="grid gap-0.5 text-small">
          {COMMON.separator}
          <input className="field" value={column.separator ?? ", "} onChange={(e) => set({ separator: e.target.value })} />
        </label>
      )}
      {column.figure === "list" && numbers && (
        <label className="flex gap-2 text-small">
          <input
            type="checkbox"
            className="accent-bottle"
            checked={column.format?.spark ?? false}
            onChange={(e) => set({ format: { ...column.format, spark: e.target.checked || undefined } })}
          />
          {WORDS.showAsSparkline}
        </label>
      )}
    </>
  );
}

/** What a row must meet to be counted in a figure, as a sentence of its own. */
function FigureConditions(props: EditorProps & { column: QueryColumn }) {
  const { spec, schema, change, column } = props;
  const locale = useLocale();
  const [adding, setAdding] = useState(false);
  const where = column.where ?? [];
  return (
    <div className="text-small">
      {where.length > 0 && (
        <Brief
          phrases={figureConditionsBrief(where, spec, schema, locale)}
          keyOf={phraseKey}
          onDelete={(target) => change(withoutCondition(spec, target))}
          editor={(target, close) => <ConditionPhraseEditor {...props} target={target} close={close} />}
        />
      )}
      {adding ? (
        <FieldPicker
          {...props}
          close={() => setAdding(false)}
          caption={WORDS.onlyRowsCounted}
          pick={(next, left) => change(edit.addFigureCondition(next, schema, column.id, left))}
        />
      ) : (
        <button type="button" className="link" onClick={() => setAdding(true)}>
          {WORDS.onlyCountWhere}
        </button>
      )}
    </div>
  );
}

function ColumnSettings(props: EditorProps & { column: QueryColumn }) {
  const { spec, schema, change, column } = props;
  const type = column.value ? edit.operandTypeIn(spec, schema, column.value) : undefined;
  const set = (next: Partial<QueryColumn>) => change(edit.changeColumn(spec, column.id, next));
  const table = column.value?.kind === "field" ? findTable(schema, edit.tableOf(spec, schema, column.value.join) ?? "") : undefined;
  const stored = table && column.value?.kind === "field" ? findColumn(table, column.value.column) : undefined;
  const apart = Boolean(column.figure) || !(table && stored && stored.type.kind === "whole" && namesSomething(schema, { table, column: stored }));
  const planned = useMemo(() => plannedColumn(spec, schema, column.id), [spec, schema, column.id]);
  const numeric = !type || isNumber(type) || column.figure === "count" || column.figure === "countDifferent";
  return (
    <div className="grid gap-2 bg-paper p-2">
      <HeadingInput column={column} set={set} />
      {column.value?.kind === "formula" && <FormulaInput value={column.value.text} onChange={(next) => set({ value: { kind: "formula", text: next } })} />}
      {column.figure && type && (
        <label className="grid gap-0.5 text-small">
          {WORDS.figureField}
          <select className="field" value={column.figure} onChange={(e) => set(edit.asFigure(column, e.target.value as AggregateName))}>
            {AGGREGATE_NAMES.filter((n) => AGGREGATES[n].takes(type)).map((n) => (
              <option key={n} value={n}>
                {AGGREGATES[n].words}
              </option>
            ))}
          </select>
        </label>
      )}
      {column.figure === "window" && <WindowSettings spec={spec} schema={schema} column={column} set={set} />}
      {column.figure && <BesideFigure spec={spec} schema={schema} column={column} set={set} numbers={!type || isNumber(type)} />}
      {column.figure && column.figure !== "window" && <FigureConditions {...props} column={column} />}
      {numeric && (
        <>
          <DigitsInput
            label={COMMON.decimalPlaces}
            none={COMMON.asStored}
            digits={column.format?.decimals}
            onChange={(decimals) => set({ format: { ...column.format, decimals } })}
          />
          <label className="flex gap-2 text-small">
            <input
              type="checkbox"
              className="accent-bottle"
              checked={column.format?.grouping ?? apart}
              onChange={(e) => set({ format: { ...column.format, grouping: e.target.checked } })}
            />
            {COMMON.thousandsSeparator}
          </label>
          <label className="flex gap-2 text-small">
            <input
              type="checkbox"
              className="accent-bottle"
              checked={planned ? planned.totalled || planned.foot !== undefined : column.footing !== "none"}
              onChange={(e) => set({ footing: e.target.checked ? "total" : "none" })}
            />
            {WORDS.totalInFooting}
          </label>
          {planned?.home?.repeated && planned.home.keys && (!column.figure || column.figure === "total") && (
            <label className="flex gap-2 text-small">
              {filled(
                COMMON.countEachOnce,
                <input
                  type="checkbox"
                  className="accent-bottle"
                  checked={column.everyRow !== true}
                  onChange={(e) => set({ everyRow: e.target.checked ? undefined : true })}
                />,
                planned.home.words,
              )}
            </label>
          )}
        </>
      )}
      {type && isDated(type) && column.value?.kind === "field" && !column.figure && (
        <label className="grid gap-0.5 text-small">
          {COMMON.dateFormat}
          <select
            className="field"
            value={column.value.part ?? column.format?.date ?? "short"}
            onChange={(e) => {
              const form = e.target.value;
              const part = DATE_PARTS.find((p) => p === form && p !== "day");
              const value = column.value as Extract<Operand, { kind: "field" }>;
              set(part ? { value: { ...value, part }, format: undefined } : { value: { ...value, part: undefined }, format: { date: form as "short" } });
            }}
          >
            <option value="short">{COMMON.shortDate}</option>
            <option value="long">{COMMON.longDate}</option>
            <option value="iso">2026-09-17</option>
            {DATE_PARTS.filter((p) => p !== "day").map((p) => (
              <option key={p} value={p}>
                {DATE_PART_WORDS[p]}
              </option>
            ))}
          </select>
        </label>
      )}
      <label className="flex gap-2 text-small">
        <input type="checkbox" className="accent-bottle" checked={column.hidden ?? false} onChange={(e) => set({ hidden: e.target.checked })} />
        {WORDS.hiddenUsedForSortingAnd}
      </label>
    </div>
  );
}

function HeadingInput({ column, set }: { column: QueryColumn; set: (next: Partial<QueryColumn>) => void }) {
  return (
    <label className="grid gap-0.5 text-small">
      {COMMON.heading}
      <input className="field" value={column.label ?? ""} placeholder={WORDS.defaultValue2} onChange={(e) => set({ label: e.target.value || undefined })} />
    </label>
  );
}

function FormulaInput({ value, onChange }: { value: string; onChange: (next: string) => void }) {
  return (
    <label className="grid gap-0.5 text-small">
      {WORDS.formula}
      <textarea className="field h-20 font-mono text-small" spellCheck={false} value={value} onChange={(e) => onChange(e.target.value)} />
    </label>
  );
}

function AddFormula({ spec, change }: EditorProps) {
  const [adding, setAdding] = useState(false);
  if (!adding)
    return (
      <button type="button" className="link pt-2" onClick={() => setAdding(true)}>
        {WORDS.addFormula}
      </button>
    );
  return (
    <NewFormula
      help={WORDS.useFieldNamesShipperName}
      add={(text) => {
        change(edit.addColumn(spec, { value: { kind: "formula", text } }));
        setAdding(false);
      }}
    />
  );
}

/** A formula while it is written for the first time. */
function NewFormula({ help, add }: { help: string; add: (text: string) => void }) {
  const [formula, setFormula] = useState("");
  return (
    <div className="grid gap-2 pt-2">
      <FormulaInput value={formula} onChange={setFormula} />
      <p className="text-small text-soft">{help}</p>
      <button type="button" className="button-primary justify-self-start" disabled={formula.trim() === ""} onClick={() => add(formula)}>
        {COMMON.add}
      </button>
    </div>
  );
}

/** A figure of a field, a formula over figures, or what the rows shown make of a column. */
function AddFigure(props: EditorProps) {
  const { spec, schema, change } = props;
  const [chosen, setChosen] = useState<string>("total");
  const [adding, setAdding] = useState(false);
  if (!adding)
    return (
      <button type="button" className="link pt-2" onClick={() => setAdding(true)}>
        {WORDS.addFigure}
      </button>
    );
  const figure = AGGREGATE_NAMES.find((n) => n === chosen);
  const window = WINDOW_NAMES.find((n) => `window ${n}` === chosen);
  const add = (next: QuerySpec, column: Omit<QueryColumn, "id">) => {
    change(edit.addColumn(next, column));
    setAdding(false);
  };
  return (
    <div className="pt-2">
      <select className="field mb-2" aria-label={COMMON.figure} value={chosen} onChange={(e) => setChosen(e.target.value)}>
        {spec.grouped && (
          <>
            {AGGREGATE_NAMES.filter((n) => !needsBy(n)).map((n) => (
              <option key={n} value={n}>
                {figureWords(n)}
              </option>
            ))}
            <option value="formula">{WORDS.formulaOverFigures}</option>
          </>
        )}
        <optgroup label={WORDS.overTheRowsShown}>
          {WINDOW_NAMES.map((n) => (
            <option key={n} value={`window ${n}`}>
              {WINDOWS[n].words}
            </option>
          ))}
        </optgroup>
      </select>
      {chosen === "formula" && <NewFormula help={WORDS.figureFormulaHelp} add={(text) => add(spec, { value: { kind: "formula", text }, figure: "formula" })} />}
      {window && <WindowOf {...props} window={window} add={(column) => add(spec, column)} />}
      {figure && (
        <FieldPicker
          {...props}
          schema={schema}
          close={() => setAdding(false)}
          caption="of"
          only={AGGREGATES[figure].takes}
          pick={(next, value) => add(next, { value, figure, ...figureStart(figure) })}
        />
      )}
      {figure === "count" && (
        <button type="button" className="link" onClick={() => add(spec, { value: null, figure: "count" })}>
          {WORDS.ofRows}
        </button>
      )}
    </div>
  );
}

/** Which column a figure over the rows shown is of. */
function WindowOf({ spec, schema, window, add }: EditorProps & { window: WindowName; add: (column: Omit<QueryColumn, "id">) => void }) {
  const column = (value: QueryColumn["value"]) => add({ value, figure: "window", window: { kind: window } });
  if (WINDOWS[window].takes === null)
    return (
      <button type="button" className="button-primary" onClick={() => column(null)}>
        {COMMON.add}
      </button>
    );
  return (
    <>
      <p className="caption pb-1">{WORDS.ofColumn}</p>
      {ownColumns(spec, schema)
        .filter(({ left }) => left.kind === "column" && plannedColumn(spec, schema, left.id)?.type)
        .filter(({ left }) => left.kind === "column" && WINDOWS[window].takes?.((plannedColumn(spec, schema, left.id) as PlanColumn).type))
        .map(({ left, words }) => (
          <Choice key={words} onClick={() => column(left)}>
            {words}
          </Choice>
        ))}
    </>
  );
}

/** How a figure over the rows shown is taken: by itself for each value of a column, in which order, how far back. */
function WindowSettings({
  spec,
  schema,
  column,
  set,
}: Pick<EditorProps, "spec" | "schema"> & { column: QueryColumn; set: (next: Partial<QueryColumn>) => void }) {
  const { window } = column;
  if (!window) return null;
  const record = WINDOWS[window.kind];
  const put = (next: Partial<NonNullable<QueryColumn["window"]>>) => set({ window: { ...window, ...next } });
  const others = ownColumns(spec, schema).flatMap(({ left, words }) => (left.kind === "column" ? [{ id: left.id, words }] : []));
  const periods = record.back && (window.back ?? "row") !== "row";
  return (
    <>
      {record.back && (
        <label className="grid gap-0.5 text-small">
          {WORDS.takenFrom}
          <select className="field" value={window.back ?? "row"} onChange={(e) => put({ back: e.target.value as BackName })}>
            {BACK_NAMES.map((b) => (
              <option key={b} value={b}>
                {BACK_WORDS[b]}
              </option>
            ))}
          </select>
        </label>
      )}
      {!periods && (
        <label className="grid gap-0.5 text-small">
          {WORDS.forEach}
          <select className="field" value={window.per?.[0] ?? ""} onChange={(e) => put({ per: e.target.value ? [e.target.value] : undefined })}>
            <option value="">{WORDS.allRowsTogether}</option>
            {others.map((c) => (
              <option key={c.id} value={c.id}>
                {c.words}
              </option>
            ))}
          </select>
        </label>
      )}
      {record.ordered && !periods && (
        <label className="grid gap-0.5 text-small">
          {COMMON.inOrderOf}
          <select className="field" value={window.by ?? ""} onChange={(e) => put({ by: e.target.value || undefined })}>
            <option value="">{WORDS.orderOfTheQuery}</option>
            {others.map((c) => (
              <option key={c.id} value={c.id}>
                {c.words}
              </option>
            ))}
          </select>
        </label>
      )}
      {record.rows && (
        <label className="grid gap-0.5 text-small">
          {WORDS.overSoManyRows}
          <input
            className="field"
            type="number"
            min={1}
            value={window.rows ?? MOVING_ROWS}
            onChange={(e) => put({ rows: Math.max(1, Math.trunc(Number(e.target.value))) })}
          />
        </label>
      )}
      {(window.kind === "rank" || (window.by && !periods)) && (
        <label className="flex gap-2 text-small">
          <input
            type="checkbox"
            className="accent-bottle"
            checked={(window.direction ?? (window.kind === "rank" ? "down" : "up")) === "down"}
            onChange={(e) => put({ direction: e.target.checked ? "down" : "up" })}
          />
          {WORDS.largestFirst}
        </label>
      )}
    </>
  );
}
