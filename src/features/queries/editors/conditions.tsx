"use client";

import * as edit from "@/core/query/edit";
import { askWhenRun, suits, withValue } from "@/core/query/editParameters";
import { OPERATORS, operatorsFor } from "@/core/query/operators";
import { comparableFields } from "@/core/query/reach";
import type { Condition, QuerySpec, Value } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/relative";
import { isDated, text, type ValueType } from "@/core/types/valueType";
import { onEnter } from "@/ui/onEnter";
import { Choice, type EditorProps } from "../../editors/parts";
import { TypedLines } from "../../editors/TypedLines";
import { ValueInput } from "../../editors/ValueInput";
import { WORDS } from "../words";

function typeOfLeft(spec: QuerySpec, schema: Schema, condition: Condition): ValueType {
  return edit.operandTypeIn(spec, schema, condition.left) ?? text;
}

/** The comparison of a condition. */
export function OperatorEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
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
          {OPERATORS[name].negates && <span className="text-soft"> {WORDS.orIsEmpty}</span>}
        </Choice>
      ))}
    </>
  );
}

/** A value of a condition: written, or asked for when run. */
export function ValueEditor({ spec, schema, change, close, parent, id, index }: EditorProps & { id: string; index: number }) {
  const condition = spec.conditions.find((c) => c.id === id);
  if (!condition) return null;
  const type = typeOfLeft(spec, schema, condition);
  const many = OPERATORS[condition.operator].values === "many";
  const set = (values: Value[]) => change(edit.changeCondition(spec, id, { values }));
  const withAt = (value: Value) => withValue(spec, id, index, value);
  const current = condition.values[index];
  const suitable = spec.parameters.filter((p) => suits(p, type));
  const fields = comparableFields(spec, schema, condition.left, type, parent);
  const newParameter = () => {
    change(askWhenRun(spec, schema, id, index, type));
    close();
  };
  return (
    <>
      <p className="caption pb-1">{many ? WORDS.valuesOnePerLine : WORDS.value}</p>
      {many ? (
        <TypedLines
          type={type}
          label={WORDS.valuesOnePerLine}
          values={condition.values.map((v) => (v.kind === "value" ? v.text : ""))}
          onChange={(lines) => set(lines.map((text) => ({ kind: "value", text })))}
        />
      ) : (
        <div onKeyDown={onEnter(close)}>
          <ValueInput
            type={type}
            label={WORDS.value}
            value={current?.kind === "value" ? current.text : ""}
            onChange={(next) => set(withAt({ kind: "value", text: next }))}
          />
        </div>
      )}
      {isDated(type) && !many && (
        <label className="grid gap-0.5 pt-2 text-small">
          {WORDS.orARelativeDate}
          <select
            className="field"
            value={current?.kind === "relative" ? current.date : ""}
            onChange={(e) => {
              if (e.target.value !== "") set(withAt({ kind: "relative", date: e.target.value as RelativeDate }));
            }}
          >
            <option value="">–</option>
            {(Object.keys(RELATIVE_DATES) as RelativeDate[]).map((d) => (
              <option key={d} value={d}>
                {RELATIVE_DATES[d].words}
              </option>
            ))}
          </select>
        </label>
      )}
      {!many && fields.length > 0 && (
        <label className="grid gap-0.5 pt-2 text-small">
          {WORDS.orAnotherField}
          <select
            className="field"
            value={current?.kind === "field" ? `${current.join} ${current.column}` : ""}
            onChange={(e) => {
              const chosen = fields.find((f) => `${f.join} ${f.column}` === e.target.value);
              if (chosen) set(withAt({ kind: "field", join: chosen.join, column: chosen.column }));
            }}
          >
            <option value="">–</option>
            {fields.map((f) => (
              <option key={`${f.join} ${f.column}`} value={`${f.join} ${f.column}`}>
                {f.words}
              </option>
            ))}
          </select>
        </label>
      )}
      {!many && !isDated(type) && type.kind !== "yesno" && (
        <Choice
          chosen={current?.kind === "person"}
          onClick={() => {
            set(withAt({ kind: "person" }));
            close();
          }}
        >
          {WORDS.theSignedInPerson}
        </Choice>
      )}
      {suitable.length > 0 && <p className="caption pt-3 pb-1">{WORDS.askedWhenRun}</p>}
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
        {WORDS.askWhenRun}
      </button>
    </>
  );
}
