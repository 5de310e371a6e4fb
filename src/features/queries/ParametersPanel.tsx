"use client";

import { isAsked, removeParameter, renameParameter } from "@/core/query/editParameters";
import { PARAMETER_TYPES } from "@/core/query/parameters";
import type { PlanParameter } from "@/core/query/plan";
import type { Parameter, ParameterValues, QuerySpec } from "@/core/query/spec";
import { findTable, type Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/relative";
import { ValueInput } from "../editors/ValueInput";
import { COMMON } from "../words";
import { AskedInput, ParameterInput } from "./ParameterInput";
import { WORDS } from "./words";

const TYPES: Parameter["type"][] = ["text", "whole", "decimal", "date", "timestamp", "period", "yesno", "choice", "several"];

const TYPE_NAMES: Record<Parameter["type"], string> = {
  text: "text",
  whole: WORDS.wholeNumber,
  decimal: "decimal",
  date: "date",
  timestamp: WORDS.dateAndTime,
  period: WORDS.period,
  yesno: "yes/no",
  choice: COMMON.oneFromAList,
  several: WORDS.severalOfAList,
};

/** Where a list of choices comes from: fixed ones, or the values of a column of a query or table, as they are when it is asked. */
function ChoicesFrom({ schema, from, set }: { schema: Schema; from: Parameter["from"]; set: (from: Parameter["from"]) => void }) {
  const offered = [...(schema.queries ?? []), ...schema.tables]
    .filter((t) => !t.inner)
    .map((t) => ({
      table: t,
      columns: t.columns.filter((c) => c.type.kind !== "floating" && c.type.kind !== "timestamp"),
    }));
  return (
    <label className="grid gap-0.5">
      {WORDS.choicesAre}
      <select
        className="field"
        value={from ? JSON.stringify([from.table, from.column]) : ""}
        onChange={(e) => {
          const [table, column] = e.target.value === "" ? [] : (JSON.parse(e.target.value) as [string, string]);
          set(table === undefined || column === undefined ? undefined : { table, column });
        }}
      >
        <option value="">{WORDS.fixedList}</option>
        {offered.map(
          ({ table, columns }) =>
            columns.length > 0 && (
              <optgroup key={table.name} label={table.label}>
                {columns.map((c) => (
                  <option key={c.name} value={JSON.stringify([table.name, c.name])}>
                    {WORDS.valuesOf(c.label, table.label)}
                  </option>
                ))}
              </optgroup>
            ),
        )}
      </select>
    </label>
  );
}

/** The column that rows are sought and shown by, where it is not their value: a shipper by name, and not by number. */
function ShownBy({ schema, from, set }: { schema: Schema; from: NonNullable<Parameter["from"]>; set: (from: Parameter["from"]) => void }) {
  const texts = (findTable(schema, from.table)?.columns ?? []).filter((c) => c.type.kind === "text" && c.name !== from.column);
  if (texts.length === 0) return null;
  return (
    <label className="grid gap-0.5">
      {WORDS.soughtBy}
      <select
        className="field"
        value={from.shown ?? ""}
        onChange={(e) => set({ table: from.table, column: from.column, ...(e.target.value ? { shown: e.target.value } : {}) })}
      >
        <option value="">{WORDS.theValueItself}</option>
        {texts.map((c) => (
          <option key={c.name} value={c.name}>
            {c.label}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The parameters of a query: today's values, and how each is asked for. */
export function ParametersPanel({
  spec,
  schema,
  values,
  today,
  change,
  setValues,
  asked = [],
}: {
  spec: QuerySpec;
  schema: Schema;
  values: ParameterValues;
  today: Today;
  change: (next: QuerySpec) => void;
  setValues: (next: ParameterValues) => void;
  /** What derived fields ask for, wherever they are used. */
  asked?: PlanParameter[];
}) {
  const update = (i: number, next: Partial<Parameter>) => change({ ...spec, parameters: spec.parameters.map((p, k) => (k === i ? { ...p, ...next } : p)) });
  const rename = (i: number, name: string) => {
    const was = spec.parameters[i]?.name;
    if (was !== undefined) change(renameParameter(spec, was, name));
  };
  const add = () => {
    let name = "parameter";
    for (let n = 2; spec.parameters.some((p) => p.name === name); n++) name = `parameter ${n}`;
    change({ ...spec, parameters: [...spec.parameters, { name, type: "text", optional: true }] });
  };
  return (
    <div className="grid gap-4">
      {asked.map((p) => (
        <label key={p.name} className="grid gap-0.5">
          <span className="font-semibold text-ochre">{p.name}</span>
          <AskedInput asked={p} values={values} setValues={setValues} />
          <span className="text-small text-soft">{WORDS.usedByADerivedField}</span>
        </label>
      ))}
      {spec.parameters.length === 0 && asked.length === 0 && <p className="text-soft">{WORDS.noParametersYetOpenA}</p>}
      {spec.parameters.map((p, i) => (
        <fieldset key={`parameter ${i}`} className="border-b border-hairline pb-3">
          <legend className="pb-1 font-semibold text-ochre">{p.name}</legend>
          {!isAsked(spec, p.name) && <p className="pb-1 text-small text-soft">{WORDS.parameterUnused}</p>}
          <ParameterInput spec={spec} parameter={p} values={values} today={today} setValues={setValues} />
          {values[p.name] && (
            <button
              type="button"
              className="link pt-1 text-small"
              onClick={() => {
                const { [p.name]: _, ...rest } = values;
                setValues(rest);
              }}
            >
              {WORDS.resetToDefault}
            </button>
          )}
          <details className="pt-1 text-small">
            <summary className="text-soft">{WORDS.editParameter}</summary>
            <div className="grid gap-2 bg-sheet p-2">
              <label className="grid gap-0.5">
                {COMMON.name}
                <input
                  className="field"
                  defaultValue={p.name}
                  key={p.name}
                  onBlur={(e) => rename(i, e.target.value.trim())}
                  onKeyDown={(e) => {
                    if (e.key === "Enter") e.currentTarget.blur();
                  }}
                />
              </label>
              <label className="grid gap-0.5">
                {COMMON.type}
                <select className="field" value={p.type} onChange={(e) => update(i, { type: e.target.value as Parameter["type"], default: undefined })}>
                  {TYPES.map((t) => (
                    <option key={t} value={t}>
                      {TYPE_NAMES[t]}
                    </option>
                  ))}
                </select>
              </label>
              {(p.type === "choice" || p.type === "several") && <ChoicesFrom schema={schema} from={p.from} set={(from) => update(i, { from })} />}
              {p.type === "choice" && p.from && <ShownBy schema={schema} from={p.from} set={(from) => update(i, { from })} />}
              {(p.type === "choice" || p.type === "several") && !p.from && (
                <label className="grid gap-0.5">
                  {WORDS.choicesOnePerLine}
                  <textarea className="field h-20" value={p.choices?.join("\n") ?? ""} onChange={(e) => update(i, { choices: e.target.value.split("\n") })} />
                </label>
              )}
              <label className="grid gap-0.5">
                {WORDS.defaultValue}
                {p.type === "date" && (
                  <select
                    className="field"
                    value={p.default?.kind === "relative" ? p.default.date : "fixed"}
                    onChange={(e) =>
                      update(i, { default: e.target.value === "fixed" ? undefined : { kind: "relative", date: e.target.value as RelativeDate } })
                    }
                  >
                    <option value="fixed">{WORDS.fixedDate}</option>
                    {(Object.keys(RELATIVE_DATES) as RelativeDate[]).map((d) => (
                      <option key={d} value={d}>
                        {RELATIVE_DATES[d].words}
                      </option>
                    ))}
                  </select>
                )}
                {p.default?.kind !== "relative" && (
                  <ValueInput
                    type={PARAMETER_TYPES[p.type]}
                    period={p.type === "period"}
                    label={WORDS.defaultOf(p.name)}
                    value={p.default?.text ?? ""}
                    onChange={(v) => update(i, { default: v === "" ? undefined : { kind: "fixed", text: v } })}
                  />
                )}
              </label>
              <label className="flex gap-2">
                <input type="checkbox" className="accent-bottle" checked={p.optional ?? false} onChange={(e) => update(i, { optional: e.target.checked })} />
                {WORDS.optionalConditionsWithoutAValue}
              </label>
              <button type="button" className="text-left font-semibold text-vermilion hover:underline" onClick={() => change(removeParameter(spec, p.name))}>
                {WORDS.removeParameterAndItsConditions}
              </button>
            </div>
          </details>
        </fieldset>
      ))}
      <button type="button" className="link justify-self-start" onClick={add}>
        {WORDS.addParameter}
      </button>
    </div>
  );
}
