"use client";

import type { ReactNode } from "react";
import { SHOW_AS, type ShowAs } from "@/core/pivot/choices";
import { changeAxis, changeFigure, chooseFigure, duplicateFigure, nudgePart, removePart } from "@/core/pivot/edit";
import { asQuery } from "@/core/pivot/plan";
import { SHOWN } from "@/core/pivot/show";
import type { PivotAxis, PivotFigure, PivotSpec } from "@/core/pivot/spec";
import { keyOf } from "@/core/pivot/tree";
import { AGGREGATES, addsUpByKind, aggregateOf, figureWords, givenBy } from "@/core/query/aggregates";
import type { AggregateName } from "@/core/query/choices";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { GROUP_PART_WORDS, GROUP_PARTS, type GroupPart } from "@/core/types/date";
import { moved } from "@/core/types/list";
import { type Cell, isDated, isNumber, whole } from "@/core/types/valueType";
import { filled } from "@/ui/filled";
import { DigitsInput } from "../editors/DigitsInput";
import { FormulaInput } from "../editors/NewFormula";
import { PercentInput } from "../editors/PercentInput";
import { Remove } from "../editors/parts";
import { FigureConditions } from "../queries/editors/figures";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = { spec: PivotSpec; table: Table; change: (next: PivotSpec) => void; close: () => void };

const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="grid gap-0.5 text-small">
    <span className="text-soft">{label}</span>
    {children}
  </label>
);

const columnIn = (table: Table, value: PivotFigure["value"]) => (value?.kind === "field" ? table.columns.find((c) => c.name === value.column) : undefined);

/** What a field down or across can be: part or band, order, first n, empty groups, subtotal. */
export function AxisEditor({
  id,
  spec,
  table,
  change,
  close,
  values,
  words,
}: Props & { id: string /** its values, in their order */; values: Cell[]; words: (value: Cell) => string }) {
  const axis = [...spec.down, ...spec.across].find((a) => a.id === id);
  if (!axis) return null;
  const set = (next: Partial<PivotAxis>) => change(changeAxis(spec, id, next));
  const value = axis.value.kind === "field" ? axis.value : null;
  const type = columnIn(table, axis.value)?.type;
  const { order } = axis;
  const side = spec.down.includes(axis) ? "down" : "across";
  const innermost = spec[side].at(-1)?.id === id;
  const orderKey = order.by === "figure" ? `figure ${order.figure}` : order.by;
  return (
    <div className="grid gap-2">
      {value && type && isDated(type) && (
        <Labelled label={COMMON.by}>
          <select
            className="field"
            value={value.part ?? ""}
            onChange={(e) => set({ value: { ...value, part: (e.target.value || undefined) as GroupPart | undefined } })}
          >
            <option value="">{WORDS.eachValue}</option>
            {GROUP_PARTS.map((part) => (
              <option key={part} value={part}>
                {GROUP_PART_WORDS[part]}
              </option>
            ))}
          </select>
        </Labelled>
      )}
      {value && type && isNumber(type) && (
        <Labelled label={WORDS.bandWidthEmptyEachNumber}>
          <input
            className="field"
            inputMode="decimal"
            key={value.band?.width}
            defaultValue={value.band?.width ?? ""}
            onBlur={(e) =>
              (e.target.value.trim() || undefined) !== value.band?.width &&
              set({ value: { ...value, band: e.target.value.trim() ? { width: e.target.value.trim() } : undefined } })
            }
            onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          />
        </Labelled>
      )}
      <Labelled label={COMMON.order}>
        <select
          className="field"
          value={orderKey}
          onChange={(e) => {
            const [by = "", figure = ""] = e.target.value.split(/ (.*)/);
            if (by === "figure") set({ order: { by: "figure", direction: "down", figure } });
            else if (by === "hand") set({ order: { by: "hand", keys: values.map(keyOf) } });
            else set({ order: { by: "name", direction: "up" } });
          }}
        >
          <option value="name">{WORDS.byValue}</option>
          {spec.figures.map((f) => (
            <option key={f.id} value={`figure ${f.id}`}>
              {WORDS.by(f.label ?? `${figureWords(f.figure)}${f.value ? WORDS.ofField(columnIn(table, f.value)?.label ?? WORDS.aField) : ""}`)}
            </option>
          ))}
          <option value="hand">{COMMON.manual}</option>
        </select>
      </Labelled>
      {order.by !== "hand" && (
        <Labelled label={WORDS.direction}>
          <select className="field" value={order.direction} onChange={(e) => set({ order: { ...order, direction: e.target.value as "up" } })}>
            <option value="up">{order.by === "name" && type?.kind === "text" ? WORDS.aToZ : WORDS.smallestOrEarliestFirst}</option>
            <option value="down">{order.by === "name" && type?.kind === "text" ? WORDS.zToA : WORDS.largestOrLatestFirst}</option>
          </select>
        </Labelled>
      )}
      {order.by === "hand" && (
        <HandOrder keys={order.keys} words={(key) => words(JSON.parse(key) as Cell)} change={(keys) => set({ order: { by: "hand", keys } })} />
      )}
      <Labelled label={WORDS.firstNGroupsTheRest}>
        <input
          className="field"
          type="number"
          min={1}
          max={1000}
          value={axis.first ?? ""}
          onChange={(e) => set({ first: e.target.value === "" ? null : Math.max(1, Math.min(1000, Math.trunc(Number(e.target.value)))) })}
        />
      </Labelled>
      <label className="flex gap-2 text-small">
        <input type="checkbox" className="accent-bottle" checked={axis.empty} onChange={(e) => set({ empty: e.target.checked })} />
        {WORDS.showGroupsWithoutRows}
      </label>
      {!innermost && (
        <Labelled label={WORDS.subtotal}>
          <select className="field" value={axis.subtotal} onChange={(e) => set({ subtotal: e.target.value as PivotAxis["subtotal"] })}>
            <option value="before">{WORDS.aboveItsRows}</option>
            <option value="after">{WORDS.belowItsRows}</option>
            <option value="none">{COMMON.none}</option>
          </select>
        </Labelled>
      )}
      <MoveButtons id={id} spec={spec} change={change} />
      <Remove
        onClick={() => {
          change(removePart(spec, id));
          close();
        }}
      >
        {COMMON.remove}
      </Remove>
    </div>
  );
}

function HandOrder({ keys, words, change }: { keys: string[]; words: (key: string) => string; change: (keys: string[]) => void }) {
  const move = (i: number, by: -1 | 1) => change(moved(keys, i, by));
  return (
    <ol className="max-h-40 overflow-auto border border-hairline">
      {keys.slice(0, 200).map((key, i) => (
        <li key={key} className="flex items-center gap-1 px-1">
          <span className="flex-1 truncate">{words(key)}</span>
          <button type="button" className="small-button" disabled={i === 0} aria-label={COMMON.moveUp(words(key))} onClick={() => move(i, -1)}>
            ↑
          </button>
          <button type="button" className="small-button" disabled={i === keys.length - 1} aria-label={COMMON.moveDown(words(key))} onClick={() => move(i, 1)}>
            ↓
          </button>
        </li>
      ))}
    </ol>
  );
}

const MoveButtons = ({ id, spec, change }: Pick<Props, "spec" | "change"> & { id: string }) => (
  <div className="flex gap-3 border-t border-hairline pt-1">
    <button type="button" className="link" onClick={() => change(nudgePart(spec, id, -1))}>
      {WORDS.moveBack}
    </button>
    <button type="button" className="link" onClick={() => change(nudgePart(spec, id, 1))}>
      {WORDS.moveOn}
    </button>
  </div>
);

type KindProps = { figure: PivotFigure; table: Table; choose: (kind: AggregateName) => void; set: (next: Partial<PivotFigure>) => void };

/** Which figure it is over its field, and what that asks for beside: an order, a weight, a percentage. */
function KindOfFigure({ figure, table, choose, set }: KindProps) {
  const type = columnIn(table, figure.value)?.type ?? whole;
  const names = (Object.keys(AGGREGATES) as AggregateName[]).filter((name) => (figure.value ? AGGREGATES[name].takes(type) : name === "count"));
  const { order: ordered, weighs, percent, help } = aggregateOf(figure.figure) ?? {};
  return (
    <>
      <Labelled label={COMMON.figure}>
        <select className="field" value={figure.figure} title={help} onChange={(e) => choose(e.target.value as AggregateName)}>
          {names.map((name) => (
            <option key={name} value={name}>
              {figure.value ? AGGREGATES[name].words : COMMON.countOfRows}
            </option>
          ))}
        </select>
      </Labelled>
      {(ordered || weighs) && (
        <Labelled label={weighs ? COMMON.weighedBy : ordered === "needed" ? WORDS.orderedBy : COMMON.inOrderOf}>
          <select
            className="field"
            value={figure.by?.kind === "field" ? figure.by.column : ""}
            onChange={(e) => set({ by: e.target.value ? { kind: "field", join: "", column: e.target.value } : undefined })}
          >
            <option value="">{ordered === "needed" || weighs ? WORDS.chooseAField : COMMON.itsValues}</option>
            {table.columns
              .filter((c) => !weighs || isNumber(c.type))
              .map((c) => (
                <option key={c.name} value={c.name}>
                  {c.label}
                </option>
              ))}
          </select>
        </Labelled>
      )}
      {percent && <PercentInput value={figure.percent} set={(next) => set({ percent: next })} />}
    </>
  );
}

/** Which rows a figure counts. */
function FigureWhere({ id, spec, schema, change }: Pick<Props, "spec" | "change"> & { id: string; schema: Schema }) {
  const query = asQuery({ ...spec, conditions: [] });
  const column = query.columns.find((c) => c.id === id);
  if (!column) return null;
  const asked = (next: QuerySpec) => change({ ...changeFigure(spec, id, { where: next.columns.find((c) => c.id === id)?.where }), asked: next.parameters });
  return <FigureConditions spec={query} schema={schema} column={column} change={asked} close={() => {}} />;
}

/** What a figure can be: its kind, how it is shown, its label and digits, its shading. */
export function FigureEditor({ id, spec, table, schema, change, close }: Props & { id: string; schema: Schema }) {
  const figure = spec.figures.find((f) => f.id === id);
  if (!figure) return null;
  const set = (next: Partial<PivotFigure>) => change(changeFigure(spec, id, next));
  const column = columnIn(table, figure.value);
  const type = column?.type ?? whole;
  const home = column?.home;
  const gives = givenBy(figure.figure, type);
  const shows = SHOW_AS.filter((s) => (!SHOWN[s].numbersOnly || isNumber(gives)) && (!SHOWN[s].partsOnly || addsUpByKind(figure.figure)));
  return (
    <div className="grid gap-2">
      {figure.value?.kind === "formula" ? (
        <FormulaInput
          spec={asQuery({ ...spec, conditions: [], figures: spec.figures.filter((f) => f.id !== id) })}
          schema={schema}
          over="figures"
          text={figure.value.text}
          onChange={(text) => set({ value: { kind: "formula", text } })}
        />
      ) : (
        <KindOfFigure figure={figure} table={table} choose={(kind) => change(chooseFigure(spec, id, kind))} set={set} />
      )}
      <FigureWhere id={id} spec={spec} schema={schema} change={change} />
      <Labelled label={WORDS.showAs}>
        <select
          className="field"
          value={figure.showAs}
          title={SHOWN[figure.showAs].help}
          onChange={(e) => set({ showAs: e.target.value as ShowAs, format: undefined })}
        >
          {shows.map((s) => (
            <option key={s} value={s}>
              {SHOWN[s].words}
            </option>
          ))}
        </select>
      </Labelled>
      {home?.keys && figure.figure === "total" && (
        <label className="flex gap-2 text-small">
          {filled(
            COMMON.countEachOnce,
            <input
              type="checkbox"
              className="accent-bottle"
              checked={figure.everyRow !== true}
              onChange={(e) => set({ everyRow: e.target.checked ? undefined : true })}
            />,
            home.words,
          )}
        </label>
      )}
      <Labelled label={WORDS.heading}>
        <input className="field" value={figure.label ?? ""} onChange={(e) => set({ label: e.target.value || undefined })} />
      </Labelled>
      {isNumber(SHOWN[figure.showAs].gives(gives)) && (
        <DigitsInput
          label={COMMON.decimalPlaces}
          none={COMMON.asStored}
          digits={figure.format?.decimals}
          onChange={(decimals) => set({ format: { ...figure.format, decimals, ...(SHOWN[figure.showAs].percent ? { percent: true } : {}) } })}
        />
      )}
      <label className="flex gap-2 text-small">
        <input type="checkbox" className="accent-bottle" checked={spec.heat === id} onChange={(e) => change({ ...spec, heat: e.target.checked ? id : null })} />
        {WORDS.shadeCells}
      </label>
      <button
        type="button"
        className="link justify-self-start"
        onClick={() => {
          change(duplicateFigure(spec, id));
          close();
        }}
      >
        {WORDS.duplicateFigure}
      </button>
      <MoveButtons id={id} spec={spec} change={change} />
      <Remove
        onClick={() => {
          change(removePart(spec, id));
          close();
        }}
      >
        {COMMON.remove}
      </Remove>
    </div>
  );
}
