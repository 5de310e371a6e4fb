"use client";

import { useState } from "react";
import { figureConditionsBrief } from "@/core/brief/brief";
import { withoutCondition } from "@/core/brief/editPhrase";
import { AGGREGATES, aggregateOf, figureStart, figureWords, needsBy } from "@/core/query/aggregates";
import { AGGREGATE_NAMES, BACK_NAMES, type BackName, WINDOW_NAMES, type WindowName } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import type { PlanColumn } from "@/core/query/plan";
import { ownColumns, reachable, withReached } from "@/core/query/reach";
import { plannedColumn } from "@/core/query/resolve";
import { MOVING_ROWS, QUANTILE_PARTS } from "@/core/query/resolveWindow";
import type { QueryColumn, QuerySpec } from "@/core/query/spec";
import { BACK_CHOICES, WINDOWS } from "@/core/query/windows";
import { isNumber } from "@/core/types/valueType";
import { InlineBrief } from "@/ui/InlineBrief";
import { CountInput } from "../../editors/CountInput";
import { NewFormula } from "../../editors/NewFormula";
import { PercentInput } from "../../editors/PercentInput";
import { Choice, type EditorProps, FieldPicker, LedOn, Tick } from "../../editors/parts";
import { phraseKey } from "../../editors/phraseKey";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { ConditionPhraseEditor } from "./conditions";

type BesideProps = Pick<EditorProps, "spec" | "schema"> & { column: QueryColumn; set: (next: Partial<QueryColumn>) => void; numbers: boolean };

/** What a figure needs beside its field: the order of its values, their weight, a percentage, what stands between them. */
export function BesideFigure({ spec, schema, column, set, numbers }: BesideProps) {
  const { order, weighs, percent, counts } = aggregateOf(column.figure) ?? {};
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
      {counts && <CountInput counts={counts} value={column.count} set={(count) => set({ count })} />}
      {column.figure === "nth" && (
        <select
          className="field w-auto"
          aria-label={COMMON.order}
          value={column.direction ?? "up"}
          onChange={(e) => set({ direction: e.target.value as "up" | "down" })}
        >
          <option value="up">{COMMON.earliestFirst}</option>
          <option value="down">{COMMON.latestFirst}</option>
        </select>
      )}
      {percent && <PercentInput value={column.percent} set={(next) => set({ percent: next })} />}
      {column.figure === "list" && (
        <label className="grid gap-0.5 text-small">
          {COMMON.separator}
          <input className="field" value={column.separator ?? ", "} onChange={(e) => set({ separator: e.target.value })} />
        </label>
      )}
      {column.figure === "list" && numbers && (
        <Tick checked={column.format?.spark ?? false} set={(checked) => set({ format: { ...column.format, spark: checked || undefined } })}>
          {WORDS.showAsSparkline}
        </Tick>
      )}
    </>
  );
}

/** What a row must meet to be counted in a figure, as a sentence of its own. */
export function FigureConditions(props: EditorProps & { column: QueryColumn }) {
  const { spec, schema, change, column } = props;
  const locale = useLocale();
  const [adding, setAdding] = useState(false);
  const where = column.where ?? [];
  return (
    <div className="text-small">
      {where.length > 0 && (
        <InlineBrief
          phrases={figureConditionsBrief(where, spec, schema, locale)}
          keyOf={phraseKey}
          onDelete={(target) => change(withoutCondition(spec, target))}
          editor={(target, close) => <ConditionPhraseEditor {...props} target={target} close={close} />}
        />
      )}
      {adding ? (
        <LedOn>
          <FieldPicker
            {...props}
            close={() => setAdding(false)}
            caption={WORDS.onlyRowsCounted}
            pick={(next, left) => change(edit.addFigureCondition(next, schema, column.id, left))}
          />
        </LedOn>
      ) : (
        <button type="button" className="link" onClick={() => setAdding(true)}>
          {WORDS.onlyCountWhere}
        </button>
      )}
    </div>
  );
}

/** A figure of a field, a formula over figures, or what the rows shown make of a column. */
export function AddFigure(props: EditorProps) {
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
      {chosen === "formula" && (
        <NewFormula spec={spec} schema={props.schema} over="figures" add={(text) => add(spec, { value: { kind: "formula", text }, figure: "formula" })} />
      )}
      {window && <WindowOf {...props} window={window} add={(column) => add(spec, column)} />}
      {figure && (
        <FieldPicker
          {...props}
          schema={schema}
          close={() => setAdding(false)}
          caption="of"
          formula
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
export function WindowSettings({
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
  const type = column.value ? edit.operandTypeIn(spec, schema, column.value) : undefined;
  const kinds = WINDOW_NAMES.filter((kind) => kind === window.kind || (type && WINDOWS[kind].takes?.(type)));
  return (
    <>
      {record.takes && (
        <label className="grid gap-0.5 text-small">
          {WORDS.figureField}
          <select className="field" value={window.kind} onChange={(e) => put({ kind: e.target.value as WindowName })}>
            {kinds.map((kind) => (
              <option key={kind} value={kind}>
                {WINDOWS[kind].words}
              </option>
            ))}
          </select>
        </label>
      )}
      {record.back && (
        <label className="grid gap-0.5 text-small">
          {WORDS.takenFrom}
          <select className="field" value={window.back ?? "row"} onChange={(e) => put({ back: e.target.value as BackName })}>
            {BACK_NAMES.map((b) => (
              <option key={b} value={b}>
                {BACK_CHOICES[b]}
              </option>
            ))}
          </select>
        </label>
      )}
      {!periods && (
        <OwnColumnSelect
          label={WORDS.forEach}
          none={WORDS.allRowsTogether}
          columns={others}
          value={window.per?.[0]}
          set={(id) => put({ per: id ? [id] : undefined })}
        />
      )}
      {record.ordered && !periods && (
        <OwnColumnSelect label={COMMON.inOrderOf} none={WORDS.orderOfTheQuery} columns={others} value={window.by} set={(by) => put({ by })} />
      )}
      {record.rows && (
        <label className="grid gap-0.5 text-small">
          {record.rows === "parts" ? WORDS.intoSoManyParts : WORDS.overSoManyRows}
          <input
            className="field"
            type="number"
            min={1}
            value={window.rows ?? (record.rows === "parts" ? QUANTILE_PARTS : MOVING_ROWS)}
            onChange={(e) => put({ rows: Math.max(1, Math.trunc(Number(e.target.value))) })}
          />
        </label>
      )}
      {(window.kind === "rank" || window.kind === "quantile" || (window.by && !periods)) && (
        <Tick
          checked={(window.direction ?? (window.kind === "rank" ? "down" : "up")) === "down"}
          set={(checked) => put({ direction: checked ? "down" : "up" })}
        >
          {WORDS.largestFirst}
        </Tick>
      )}
    </>
  );
}

type OwnColumnProps = {
  label: string;
  none: string;
  columns: { id: string; words: string }[];
  value: string | undefined;
  set: (id: string | undefined) => void;
};

/** One of the query's own columns, or none of them. */
function OwnColumnSelect({ label, none, columns, value, set }: OwnColumnProps) {
  return (
    <label className="grid gap-0.5 text-small">
      {label}
      <select className="field" value={value ?? ""} onChange={(e) => set(e.target.value || undefined)}>
        <option value="">{none}</option>
        {columns.map((c) => (
          <option key={c.id} value={c.id}>
            {c.words}
          </option>
        ))}
      </select>
    </label>
  );
}
