"use client";

import { useMemo, useState } from "react";
import { AGGREGATES, figureWords } from "@/core/query/aggregates";
import { AGGREGATE_NAMES, type AggregateName } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import { namesSomething } from "@/core/query/naming";
import { operandWords } from "@/core/query/operands";
import { scopeOf } from "@/core/query/reach";
import { renameColumn } from "@/core/query/renameColumn";
import { plannedColumn } from "@/core/query/resolve";
import type { Operand, QueryColumn } from "@/core/query/spec";
import { findColumn, findTable } from "@/core/schema/schema";
import { DATE_PART_WORDS, DATE_PARTS, GROUP_PART_WORDS, GROUP_PARTS } from "@/core/types/date";
import { isDated, isNumber } from "@/core/types/valueType";
import { filled } from "@/ui/filled";
import { onEnter } from "@/ui/onEnter";
import { DigitsInput } from "../../editors/DigitsInput";
import { FormulaInput, NewFormula } from "../../editors/NewFormula";
import { Choice, type EditorProps, Remove, Tick } from "../../editors/parts";
import { COMMON } from "../../words";
import { WORDS } from "../words";
import { AddFigure, BesideFigure, FigureConditions, WindowSettings } from "./figures";
import { RelatedSettings } from "./related";

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
  const part = (typed: Partial<Record<"band" | "limits" | "letters", string>>) => change(edit.setGroupPart(spec, id, typed));
  return (
    <>
      <HeadingInput column={column} rename={(label) => change(renameColumn(spec, schema, id, label))} />
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
        <>
          <Part label={WORDS.bandWidthEmptyEachNumber} text={value.band?.width ?? ""} set={(typed) => part({ band: typed })} close={close} />
          <Part label={WORDS.ownLimits} text={value.limits?.join("; ") ?? ""} set={(typed) => part({ limits: typed })} close={close} />
        </>
      )}
      {type?.kind === "text" && value?.kind === "field" && (
        <Part label={WORDS.firstLetters} text={String(value.letters ?? "")} set={(typed) => part({ letters: typed })} close={close} />
      )}
      {value?.kind === "field" && (
        <div className="pt-2">
          <Tick checked={column.everyValue ?? false} set={(checked) => change(edit.changeColumn(spec, id, { everyValue: checked || undefined }))}>
            {WORDS.groupsWithoutRows}
          </Tick>
        </div>
      )}
      {at < groups.length - 1 && (
        <div className="pt-2">
          <Tick checked={column.subtotal ?? false} set={(checked) => change(edit.changeColumn(spec, id, { subtotal: checked || undefined }))}>
            {WORDS.subtotalOfEach}
          </Tick>
        </div>
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
          change(edit.ungroup(spec, schema));
          close();
        }}
      >
        {WORDS.removeGrouping}
      </Remove>
    </>
  );
}

/** What a group's values are put together by, as it is typed; it counts when the field is left. */
function Part({ label, text, set, close }: { label: string; text: string; set: (typed: string) => void; close: () => void }) {
  return (
    <label className="grid gap-0.5 pt-2 text-small">
      {label}
      <input
        key={text}
        className="field"
        inputMode="decimal"
        defaultValue={text}
        onBlur={(e) => e.target.value.trim() !== text && set(e.target.value)}
        onKeyDown={onEnter((e) => {
          (e.target as HTMLElement).blur();
          close();
        })}
      />
    </label>
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

/** How a column, or a figure, is worked out and written. */
export function ColumnSettings(props: EditorProps & { column: QueryColumn }) {
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
      <HeadingInput column={column} rename={(label) => change(renameColumn(spec, schema, column.id, label))} />
      {column.value?.kind === "formula" && (
        <FormulaInput
          spec={spec}
          schema={schema}
          over={column.figure === "formula" ? "figures" : "rows"}
          text={column.value.text}
          onChange={(next) => set({ value: { kind: "formula", text: next } })}
        />
      )}
      {column.value?.kind === "related" && <RelatedSettings {...props} column={column} operand={column.value} />}
      {column.figure && column.figure !== "window" && type && (
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
          <Tick checked={column.format?.grouping ?? apart} set={(checked) => set({ format: { ...column.format, grouping: checked } })}>
            {COMMON.thousandsSeparator}
          </Tick>
          {type && type.kind !== "whole" && (
            <Tick checked={column.format?.percent ?? planned?.format.percent ?? false} set={(percent) => set({ format: { ...column.format, percent } })}>
              {COMMON.asPercentage}
            </Tick>
          )}
          {column.figure !== "window" && (
            <Tick
              checked={planned ? planned.totalled || planned.foot !== undefined : column.footing !== "none"}
              set={(checked) => set({ footing: checked ? "total" : "none" })}
            >
              {WORDS.totalInFooting}
            </Tick>
          )}
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
      <Tick checked={column.hidden ?? false} set={(checked) => set({ hidden: checked })}>
        {WORDS.hiddenUsedForSortingAnd}
      </Tick>
    </div>
  );
}

/** A column's heading; it counts when the field is left, as formulas may name the column by it. */
export function HeadingInput({
  column,
  rename,
  shown = "",
  done,
}: {
  column: QueryColumn;
  rename: (label: string | undefined) => void;
  /** The heading it has without one of its own. */
  shown?: string;
  /** After Enter. */
  done?: () => void;
}) {
  const written = column.label ?? shown;
  return (
    <label className="grid gap-0.5 text-small">
      {COMMON.heading}
      <input
        key={written}
        className="field"
        defaultValue={written}
        placeholder={WORDS.defaultValue2}
        onFocus={(e) => e.target.select()}
        onBlur={(e) => e.target.value !== written && rename(e.target.value || undefined)}
        onKeyDown={onEnter((e) => {
          (e.target as HTMLElement).blur();
          done?.();
        })}
      />
    </label>
  );
}

function AddFormula({ spec, schema, change }: EditorProps) {
  const [adding, setAdding] = useState(false);
  if (!adding)
    return (
      <button type="button" className="link pt-2" onClick={() => setAdding(true)}>
        {WORDS.addFormula}
      </button>
    );
  return (
    <NewFormula
      spec={spec}
      schema={schema}
      add={(text) => {
        change(edit.addColumn(spec, { value: { kind: "formula", text } }));
        setAdding(false);
      }}
    />
  );
}
