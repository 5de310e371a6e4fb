"use client";

import { useState } from "react";
import type { PhraseTarget } from "@/core/brief/brief";
import { AGGREGATES, type AggregateName } from "@/core/query/aggregates";
import * as edit from "@/core/query/edit";
import { OPERATORS, operatorsFor } from "@/core/query/operators";
import { operandWords, resolveTables } from "@/core/query/resolve";
import type { Condition, Operand, QueryColumn, QuerySpec, Value } from "@/core/query/spec";
import { findTable, plural, type Schema, type Step, stepsFrom } from "@/core/schema/schema";
import { DATE_PART_WORDS, DATE_PARTS } from "@/core/types/date";
import { isDated, isNumber, text, type ValueType } from "@/core/types/valueType";

export type EditorProps = { spec: QuerySpec; schema: Schema; change: (next: QuerySpec) => void; close: () => void };

const scopeOf = (spec: QuerySpec, schema: Schema) => {
  const table = findTable(schema, spec.source);
  return table ? resolveTables(spec, schema, table, []) : [];
};

/** The editor of a phrase of a query's brief. */
export function PhraseEditor({ target, ...props }: EditorProps & { target: PhraseTarget }) {
  switch (target.kind) {
    case "source":
      return <SourceEditor {...props} />;
    case "join":
      return <JoinEditor {...props} id={target.id} />;
    case "unmatched":
      return <UnmatchedEditor {...props} id={target.id} />;
    case "conditionField":
      return (
        <FieldPicker
          {...props}
          caption="The condition is on"
          pick={(next, operand) => props.change(edit.changeConditionField(next, props.schema, target.id, operand))}
          remove={() => props.change(edit.removeCondition(props.spec, target.id))}
        />
      );
    case "operator":
      return <OperatorEditor {...props} id={target.id} />;
    case "value":
      return <ValueEditor {...props} id={target.id} index={target.index} />;
    case "group":
      return <GroupEditor {...props} id={target.id} />;
    case "columns":
      return <ColumnsEditor {...props} />;
    case "order":
      return <OrderEditor {...props} />;
    case "limit":
      return <LimitEditor {...props} />;
    case "field":
      return null;
    default:
      return target satisfies never;
  }
}

function Choice({ chosen, onClick, children }: { chosen?: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <button type="button" aria-pressed={chosen ?? false} onClick={onClick} className={`menu-item ${chosen ? "font-semibold text-bottle" : ""}`}>
      {chosen ? "✓ " : ""}
      {children}
    </button>
  );
}

const Remove = ({ onClick, children }: { onClick: () => void; children: React.ReactNode }) => (
  <button type="button" onClick={onClick} className="mt-2 w-full border-t border-hairline pt-2 text-left font-semibold text-vermilion hover:underline">
    {children}
  </button>
);

function SourceEditor({ spec, schema, change, close }: EditorProps) {
  const [wanted, setWanted] = useState("");
  const found = schema.tables.filter((t) => t.label.includes(wanted.toLowerCase()));
  return (
    <>
      <p className="caption pb-1">Start from</p>
      <input className="field mb-2" placeholder="Find a table" value={wanted} onChange={(e) => setWanted(e.target.value)} aria-label="Find a table" />
      {found.map((t) => (
        <Choice
          key={t.name}
          chosen={t.name === spec.source}
          onClick={() => {
            if (t.name !== spec.source)
              change({
                version: 1,
                source: t.name,
                joins: [],
                conditions: [],
                grouped: false,
                columns: edit.firstColumns(schema, t.name),
                order: [],
                limit: null,
                parameters: spec.parameters,
              });
            close();
          }}
        >
          {t.label} <span className="text-soft">{t.rows.toLocaleString()}</span>
        </Choice>
      ))}
      <p className="pt-2 text-small text-soft">Another table starts the question anew; undo brings this one back.</p>
    </>
  );
}

function JoinEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const at = scopeOf(spec, schema).find((s) => s.id === id);
  const { join } = at ?? {};
  const words = join?.on.map((on) => `${join.from}.${on.near} = ${join.table.name}.${on.far}`).join(" and ");
  return (
    <>
      <p className="caption pb-1">Brought along</p>
      <p>{words ?? "The link this was brought by is gone."}</p>
      {join && (
        <p className="pt-1 text-small text-soft">
          {join.leadsTo === "many" ? `Leads to many: a row is repeated for each of its ${plural(join.table.label)}.` : "Leads to one: no row is repeated."}
        </p>
      )}
      <Remove
        onClick={() => {
          change(edit.removeJoin(spec, id));
          close();
        }}
      >
        Let it go, with its columns and conditions
      </Remove>
    </>
  );
}

function UnmatchedEditor({ spec, change, close, id }: EditorProps & { id: string }) {
  const join = spec.joins.find((j) => j.id === id);
  const set = (unmatched: "keep" | "only") => {
    change(edit.setUnmatched(spec, id, unmatched));
    close();
  };
  return (
    <>
      <p className="caption pb-1">Rows without a match</p>
      <Choice chosen={join?.unmatched === "keep"} onClick={() => set("keep")}>
        keep them, with empty columns
      </Choice>
      <Choice chosen={join?.unmatched === "only"} onClick={() => set("only")}>
        leave them out
      </Choice>
    </>
  );
}

/** Picks a field within reach: of tables already brought first, then along links. */
export function FieldPicker({
  spec,
  schema,
  caption,
  pick,
  remove,
  close,
  only,
}: EditorProps & {
  caption: string;
  pick: (spec: QuerySpec, operand: Operand) => void;
  remove?: () => void;
  only?: (type: ValueType) => boolean;
}) {
  const [wanted, setWanted] = useState("");
  const words = wanted.trim().toLowerCase();
  const fields = reachable(spec, schema, words ? 2 : 1).filter((f) => (!only || only(f.type)) && f.words.toLowerCase().includes(words));
  return (
    <>
      <p className="caption pb-1">{caption}</p>
      <input
        className="field mb-2"
        placeholder="Find a field"
        aria-label="Find a field"
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && fields[0]) {
            const b = edit.bring(spec, fields[0].steps);
            pick(b.spec, { kind: "field", join: b.join, column: fields[0].column });
            close();
          }
        }}
      />
      <div className="max-h-56 overflow-auto">
        {fields.slice(0, 80).map((f) => (
          <Choice
            key={f.words}
            onClick={() => {
              const brought = edit.bring(spec, f.steps);
              pick(brought.spec, { kind: "field", join: brought.join, column: f.column });
              close();
            }}
          >
            {f.words}
          </Choice>
        ))}
        {fields.length === 0 && <p className="text-soft">No field has that name.</p>}
      </div>
      {remove && (
        <Remove
          onClick={() => {
            remove();
            close();
          }}
        >
          Remove
        </Remove>
      )}
    </>
  );
}

function reachable(spec: QuerySpec, schema: Schema, depth: number) {
  const fields: { steps: Step[]; column: string; words: string; type: ValueType }[] = [];
  const walk = (table: string, steps: Step[], path: string[], left: number) => {
    for (const c of findTable(schema, table)?.columns ?? []) fields.push({ steps, column: c.name, words: [...path, c.label].join(" › "), type: c.type });
    for (const { step, far } of stepsFrom(schema, table)) {
      const brought = edit.joinAt(spec, [...steps, step]) !== undefined;
      if (brought || (left > 0 && far.leadsTo === "one")) walk(far.table, [...steps, step], [...path, far.name], brought ? left : left - 1);
    }
  };
  walk(spec.source, [], [], depth);
  return fields;
}

function typeOfLeft(spec: QuerySpec, schema: Schema, condition: Condition): ValueType {
  return edit.operandTypeIn(spec, schema, condition.left) ?? text;
}

function OperatorEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const condition = spec.conditions.find((c) => c.id === id);
  if (!condition) return null;
  const type = typeOfLeft(spec, schema, condition);
  return (
    <>
      {operatorsFor(type).map((name) => (
        <Choice
          key={name}
          chosen={name === condition.operator}
          onClick={() => {
            change(edit.changeOperator(spec, id, name));
            close();
          }}
        >
          {OPERATORS[name].words(type)}
          {OPERATORS[name].negates && <span className="text-soft"> (or is empty)</span>}
        </Choice>
      ))}
    </>
  );
}

const PARAMETER_FOR: Record<ValueType["kind"], QuerySpec["parameters"][number]["type"]> = {
  text: "text",
  whole: "whole",
  decimal: "decimal",
  floating: "decimal",
  date: "date",
  timestamp: "date",
  yesno: "yesno",
};

/** One value as typed, in the notation of its type. */
export function ValueInput({ type, value, onChange, label }: { type: ValueType; value: string; onChange: (next: string) => void; label: string }) {
  if (type.kind === "yesno")
    return (
      <select className="field" aria-label={label} value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">–</option>
        <option value="yes">yes</option>
        <option value="no">no</option>
      </select>
    );
  return (
    <input
      className="field"
      aria-label={label}
      type={isDated(type) ? "date" : "text"}
      inputMode={isNumber(type) ? "decimal" : undefined}
      value={value}
      onChange={(e) => onChange(e.target.value)}
    />
  );
}

function ValueEditor({ spec, schema, change, close, id, index }: EditorProps & { id: string; index: number }) {
  const condition = spec.conditions.find((c) => c.id === id);
  if (!condition) return null;
  const type = typeOfLeft(spec, schema, condition);
  const many = OPERATORS[condition.operator].values === "many";
  const set = (values: Value[], next = spec) => change(edit.changeCondition(next, id, { values }));
  const withAt = (value: Value) => (many ? [value] : condition.values.map((v, i) => (i === index ? value : v)));
  const current = condition.values[index];
  const suitable = spec.parameters.filter(
    (p) => p.type === PARAMETER_FOR[type.kind] || (type.kind === "text" && p.type === "choice") || (isNumber(type) && ["whole", "decimal"].includes(p.type)),
  );
  const newParameter = () => {
    const stem =
      operandWords(condition.left, scopeOf(spec, schema))
        .split(" › ")
        .at(-1)
        ?.replace(/[^\p{L}\p{N}_ ]/gu, "") ?? "value";
    const wanted = OPERATORS[condition.operator].values === 2 ? (index === 0 ? "start" : "end") : stem;
    let name = wanted;
    for (let n = 2; spec.parameters.some((p) => p.name === name); n++) name = `${wanted} ${n}`;
    const fixed = current?.kind === "value" && current.text !== "" ? { default: { kind: "fixed" as const, text: current.text } } : {};
    set(withAt({ kind: "parameter", name }), { ...spec, parameters: [...spec.parameters, { name, type: PARAMETER_FOR[type.kind], ...fixed }] });
    close();
  };
  return (
    <>
      <p className="caption pb-1">{many ? "One of, a line each" : "Value"}</p>
      {many ? (
        <textarea
          className="field h-28"
          aria-label="Values, a line each"
          value={condition.values.map((v) => (v.kind === "value" ? v.text : "")).join("\n")}
          onChange={(e) => set(e.target.value.split("\n").map((line) => ({ kind: "value", text: line })))}
          onBlur={() => set(condition.values.filter((v, i) => v.kind === "parameter" || v.text !== "" || i === 0))}
        />
      ) : (
        <div
          onKeyDown={(e) => {
            if (e.key === "Enter") close();
          }}
        >
          <ValueInput
            type={type}
            label="Value"
            value={current?.kind === "value" ? current.text : ""}
            onChange={(next) => set(withAt({ kind: "value", text: next }))}
          />
        </div>
      )}
      {suitable.length > 0 && <p className="caption pt-3 pb-1">Asked for when run</p>}
      {suitable.map((p) => (
        <Choice
          key={p.name}
          chosen={current?.kind === "parameter" && current.name === p.name}
          onClick={() => {
            set(withAt({ kind: "parameter", name: p.name }));
            close();
          }}
        >
          {p.name}
        </Choice>
      ))}
      <button type="button" onClick={newParameter} className="link pt-2">
        Ask for it when run
      </button>
    </>
  );
}

function GroupEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const column = spec.columns.find((c) => c.id === id);
  if (!column) return null;
  const value = column.value;
  const type = value && edit.operandTypeIn(spec, schema, value);
  return (
    <>
      {type && isDated(type) && value?.kind === "field" && (
        <>
          <p className="caption pb-1">By</p>
          {DATE_PARTS.map((part) => (
            <Choice
              key={part}
              chosen={value.part === part}
              onClick={() => {
                change(edit.changeColumn(spec, id, { value: { ...value, part } }));
                close();
              }}
            >
              {DATE_PART_WORDS[part]}
            </Choice>
          ))}
        </>
      )}
      <Remove
        onClick={() => {
          change(edit.removeColumns(spec, [id]));
          close();
        }}
      >
        Remove from the groups
      </Remove>
      <Remove
        onClick={() => {
          change(edit.ungroup(spec));
          close();
        }}
      >
        One row for each row again
      </Remove>
    </>
  );
}

function ColumnsEditor(props: EditorProps) {
  const { spec, schema, change } = props;
  const scope = scopeOf(spec, schema);
  const [open, setOpen] = useState<string | null>(null);
  const shown = spec.grouped ? spec.columns.filter((c) => c.figure) : spec.columns;
  return (
    <>
      <p className="caption pb-1">{spec.grouped ? "Figures" : "Columns"}</p>
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
                {column.label ?? (column.figure ? `${column.value ? `${AGGREGATES[column.figure].words} of ` : "count of rows"}` : "")}
                {!column.label && column.value ? operandWords(column.value, scope) : ""}
              </button>
              <button type="button" aria-label="Move up" onClick={() => change(edit.moveColumn(spec, column.id, -1))} className="small-button">
                ↑
              </button>
              <button type="button" aria-label="Move down" onClick={() => change(edit.moveColumn(spec, column.id, 1))} className="small-button">
                ↓
              </button>
              <button
                type="button"
                aria-label="Remove the column"
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
      {spec.grouped ? <AddFigure {...props} /> : <AddFormula {...props} />}
    </>
  );
}

function ColumnSettings({ spec, schema, change, column }: EditorProps & { column: QueryColumn }) {
  const type = column.value ? edit.operandTypeIn(spec, schema, column.value) : undefined;
  const set = (next: Partial<QueryColumn>) => change(edit.changeColumn(spec, column.id, next));
  const numeric = !type || isNumber(type) || column.figure === "count" || column.figure === "countDifferent";
  return (
    <div className="grid gap-2 bg-paper p-2">
      <label className="grid gap-0.5 text-small">
        Heading
        <input className="field" value={column.label ?? ""} placeholder="as the field says" onChange={(e) => set({ label: e.target.value || undefined })} />
      </label>
      {column.value?.kind === "formula" && <FormulaInput value={column.value.text} onChange={(next) => set({ value: { kind: "formula", text: next } })} />}
      {column.figure && type && (
        <label className="grid gap-0.5 text-small">
          Figure
          <select className="field" value={column.figure} onChange={(e) => set({ figure: e.target.value as AggregateName })}>
            {(Object.keys(AGGREGATES) as AggregateName[])
              .filter((n) => AGGREGATES[n].takes(type))
              .map((n) => (
                <option key={n} value={n}>
                  {AGGREGATES[n].words}
                </option>
              ))}
          </select>
        </label>
      )}
      {numeric && (
        <>
          <label className="grid gap-0.5 text-small">
            Digits after the point
            <input
              className="field"
              type="number"
              min={0}
              max={12}
              value={column.format?.decimals ?? ""}
              placeholder="as stored"
              onChange={(e) =>
                set({
                  format: { ...column.format, decimals: e.target.value === "" ? undefined : Math.max(0, Math.min(12, Math.trunc(Number(e.target.value)))) },
                })
              }
            />
          </label>
          <label className="flex gap-2 text-small">
            <input
              type="checkbox"
              className="accent-bottle"
              checked={column.format?.grouping ?? true}
              onChange={(e) => set({ format: { ...column.format, grouping: e.target.checked } })}
            />
            Thousands set apart
          </label>
          <label className="flex gap-2 text-small">
            <input
              type="checkbox"
              className="accent-bottle"
              checked={column.footing !== "none"}
              onChange={(e) => set({ footing: e.target.checked ? "total" : "none" })}
            />
            Total in the footing
          </label>
        </>
      )}
      {type && isDated(type) && column.value?.kind === "field" && !column.figure && (
        <label className="grid gap-0.5 text-small">
          Date as
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
            <option value="short">17 Sep 2026</option>
            <option value="long">Thursday 17 September 2026</option>
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
        Hidden, for order and reports only
      </label>
    </div>
  );
}

function FormulaInput({ value, onChange }: { value: string; onChange: (next: string) => void }) {
  return (
    <label className="grid gap-0.5 text-small">
      Formula
      <textarea className="field h-20 font-mono text-small" spellCheck={false} value={value} onChange={(e) => onChange(e.target.value)} />
    </label>
  );
}

function AddFormula({ spec, change }: EditorProps) {
  const [formula, setFormula] = useState<string | null>(null);
  if (formula === null)
    return (
      <button type="button" className="link pt-2" onClick={() => setFormula("")}>
        Add a formula
      </button>
    );
  return (
    <div className="grid gap-2 pt-2">
      <FormulaInput value={formula} onChange={setFormula} />
      <p className="text-small text-soft">
        Fields by name (shipper.name, "lodged on"), parameters as :name, + − * / ||, CASE, COALESCE, TRIM, UPPER, LOWER, ROUND.
      </p>
      <button
        type="button"
        className="button-primary justify-self-start"
        disabled={formula.trim() === ""}
        onClick={() => {
          change(edit.addColumn(spec, { value: { kind: "formula", text: formula } }));
          setFormula(null);
        }}
      >
        Add
      </button>
    </div>
  );
}

function AddFigure(props: EditorProps) {
  const { spec, schema, change } = props;
  const [figure, setFigure] = useState<AggregateName>("total");
  const [adding, setAdding] = useState(false);
  if (!adding)
    return (
      <button type="button" className="link pt-2" onClick={() => setAdding(true)}>
        Add a figure
      </button>
    );
  return (
    <div className="pt-2">
      <select className="field mb-2" aria-label="Figure" value={figure} onChange={(e) => setFigure(e.target.value as AggregateName)}>
        {(Object.keys(AGGREGATES) as AggregateName[]).map((n) => (
          <option key={n} value={n}>
            {AGGREGATES[n].words}
          </option>
        ))}
      </select>
      <FieldPicker
        {...props}
        schema={schema}
        close={() => setAdding(false)}
        caption="of"
        only={AGGREGATES[figure].takes}
        pick={(next, value) => change(edit.addColumn(next, { value, figure }))}
      />
      {figure === "count" && (
        <button
          type="button"
          className="link"
          onClick={() => {
            change(edit.addColumn(spec, { value: null, figure: "count" }));
            setAdding(false);
          }}
        >
          of rows
        </button>
      )}
    </div>
  );
}

function OrderEditor({ spec, schema, change }: EditorProps) {
  const scope = scopeOf(spec, schema);
  const name = (c: QueryColumn) => c.label ?? (c.figure ? `${AGGREGATES[c.figure].words} of ${operandWords(c.value, scope)}` : operandWords(c.value, scope));
  const left = spec.columns.filter((c) => !spec.order.some((o) => o.column === c.id));
  const swap = (i: number) => {
    const order = [...spec.order];
    const [a, b] = [order[i - 1], order[i]];
    if (a && b) [order[i - 1], order[i]] = [b, a];
    change({ ...spec, order });
  };
  return (
    <>
      <p className="caption pb-1">Order by</p>
      {spec.order.map((o, i) => {
        const column = spec.columns.find((c) => c.id === o.column);
        return (
          <div key={o.column} className="flex items-center gap-1 border-b border-hairline py-1">
            <span className="min-w-0 flex-1 truncate">{column ? name(column) : "a column that is gone"}</span>
            <button
              type="button"
              className="link"
              onClick={() => change({ ...spec, order: spec.order.map((x, k) => (k === i ? { ...x, direction: x.direction === "up" ? "down" : "up" } : x)) })}
            >
              {o.direction === "up" ? "up" : "down"}
            </button>
            {i > 0 && (
              <button type="button" aria-label="Move up" className="small-button" onClick={() => swap(i)}>
                ↑
              </button>
            )}
            <button
              type="button"
              aria-label="Remove from the order"
              className="small-button text-vermilion"
              onClick={() => change({ ...spec, order: spec.order.filter((_, k) => k !== i) })}
            >
              ×
            </button>
          </div>
        );
      })}
      {left.length > 0 && <p className="caption pt-2 pb-1">{spec.order.length > 0 ? "then by" : "choose a column"}</p>}
      {left.map((c) => (
        <Choice key={c.id} onClick={() => change({ ...spec, order: [...spec.order, { column: c.id, direction: "up" }] })}>
          {name(c)}
        </Choice>
      ))}
    </>
  );
}

function LimitEditor({ spec, change, close }: EditorProps) {
  return (
    <>
      <label className="grid gap-1">
        Keep the first so many rows
        <input
          className="field"
          type="number"
          min={1}
          value={spec.limit ?? ""}
          onChange={(e) => change({ ...spec, limit: e.target.value === "" ? null : Number(e.target.value) })}
          onKeyDown={(e) => {
            if (e.key === "Enter") close();
          }}
        />
      </label>
      <Remove
        onClick={() => {
          change({ ...spec, limit: null });
          close();
        }}
      >
        Keep all rows
      </Remove>
    </>
  );
}
