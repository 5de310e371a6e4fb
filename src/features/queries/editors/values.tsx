"use client";

import { useState } from "react";
import { comparisonOf, placeOf } from "@/core/query/conditions";
import * as edit from "@/core/query/edit";
import { askWhenRun, suits, withValue } from "@/core/query/editParameters";
import { pickedBy } from "@/core/query/fromCell";
import { OPERATORS, operatorsLike, takesPeriod } from "@/core/query/operators";
import { ROWS_OF_QUERY } from "@/core/query/planTable";
import { valuesBeside } from "@/core/query/reach";
import { plannedType } from "@/core/query/resolve";
import { rowsToCompare } from "@/core/query/rowsToCompare";
import type { Condition, QuerySpec, Value } from "@/core/query/spec";
import { showsPercent } from "@/core/query/windows";
import type { Schema } from "@/core/schema/schema";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/relative";
import { isDated, text, type ValueType } from "@/core/types/valueType";
import { onEnter } from "@/ui/onEnter";
import { Choice, type EditorProps } from "../../editors/parts";
import { TypedLines } from "../../editors/TypedLines";
import { ValueInput } from "../../editors/ValueInput";
import { WORDS } from "../words";
import { ValueChoices } from "./ValueChoices";

/* The editor of a condition's value, and its parts: as it is written, how it is compared, what else it can be. */

export function typeOfLeft(spec: QuerySpec, schema: Schema, condition: Condition): ValueType {
  const { left } = condition;
  // What a formula comes to is known when it is planned.
  const planned = left.kind === "formula" ? plannedType(spec, schema, left) : undefined;
  return planned ?? edit.operandTypeIn(spec, schema, left) ?? text;
}

/** The rows a condition compares with: a column of a table or saved query, found by typing. */
function RowsPicker({ spec, schema, change, close, condition }: EditorProps & { condition: Condition }) {
  const [wanted, setWanted] = useState("");
  const [current] = condition.values;
  const typed = wanted.trim().toLowerCase();
  const offered = rowsToCompare(spec, schema, condition.left, typeOfLeft(spec, schema, condition)).filter((c) => c.words.toLowerCase().includes(typed));
  const choose = (value: Value) => {
    change(edit.changeCondition(spec, condition.id, { values: [value] }));
    close();
  };
  return (
    <>
      <label className="grid gap-1 pb-1">
        {WORDS.amongWhich}
        <input
          className="field"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
          onKeyDown={onEnter(() => {
            if (offered[0]) choose(offered[0].value);
          })}
        />
      </label>
      <div className="max-h-64 overflow-auto">
        {offered.map(({ value, words }) => (
          <Choice
            key={words}
            chosen={current?.kind === "rows" && current.table === value.table && current.column === value.column}
            onClick={() => choose(value)}
          >
            {words}
          </Choice>
        ))}
        {offered.length === 0 && <p className="py-1 text-soft">{WORDS.noSuchColumn}</p>}
      </div>
    </>
  );
}

type ValueProps = EditorProps & { id: string; index: number };
/** A value's editor with what all its parts go by: the condition, and the type of what it compares. */
type PartProps = ValueProps & { condition: Condition; type: ValueType };

/** A value of a condition: written, or asked for when run. */
export function ValueEditor(props: ValueProps) {
  const { spec, schema, change, parent, values, id } = props;
  const condition = comparisonOf(spec, id);
  if (!condition) return null;
  const type = typeOfLeft(spec, schema, condition);
  const { operator } = condition;
  if (OPERATORS[operator].values === "rows") return <RowsPicker {...props} condition={condition} />;
  const single = OPERATORS[operator].values !== "many";
  const period = takesPeriod(operator);
  // What only has to match, and groups, have no rows of the query to offer values of.
  const offered =
    pickedBy(condition) !== null &&
    (type.kind === "text" || type.kind === "whole") &&
    placeOf(spec, id)?.of === "rows" &&
    !parent &&
    spec.source !== ROWS_OF_QUERY;
  const part = { ...props, condition, type };
  return (
    <>
      <WrittenValue {...part} />
      <ComparisonSelect {...part} />
      {single && !period && isDated(type) && <RelativeDateSelect {...part} />}
      {single && !period && <BesideSelect {...part} />}
      {single && condition.left.kind !== "column" && !isDated(type) && type.kind !== "yesno" && <PersonChoice {...part} />}
      <AskedChoices {...part} />
      {/* Last: what comes in once it is counted shifts nothing that is being clicked. */}
      {offered && <ValueChoices {...{ spec, change, values, condition }} />}
    </>
  );
}

/** A value, or one a line, as it is typed. */
function WrittenValue({ spec, change, close, id, index, condition, type }: PartProps) {
  const { left, operator, values } = condition;
  const column = left.kind === "column" ? spec.columns.find((c) => c.id === left.id) : undefined;
  const typed = { type, percent: column !== undefined && showsPercent(column) };
  const textOf = (value: Value | undefined) => (value?.kind === "value" ? value.text : "");
  const asValue = (text: string): Value => ({ kind: "value", text });
  const set = (next: Value[]) => change(edit.changeCondition(spec, id, { values: next }));
  const many = OPERATORS[operator].values === "many";
  return (
    <>
      <p className="caption pb-1">{many ? WORDS.valuesOnePerLine : WORDS.value}</p>
      {many ? (
        <TypedLines {...typed} label={WORDS.valuesOnePerLine} values={values.map(textOf)} onChange={(lines) => set(lines.map(asValue))} />
      ) : (
        <div onKeyDown={onEnter(close)}>
          <ValueInput
            {...typed}
            period={takesPeriod(operator)}
            label={WORDS.value}
            value={textOf(values[index])}
            onChange={(next) => set(withValue(spec, id, index, asValue(next)))}
          />
        </div>
      )}
    </>
  );
}

/** Another comparison that takes the same value. */
function ComparisonSelect({ spec, change, id, condition, type }: PartProps) {
  const alike = operatorsLike(condition.operator, type);
  if (alike.length < 2) return null;
  return (
    <Select
      label={WORDS.comparison}
      value={condition.operator}
      options={alike.map((name) => ({ key: name, words: `${OPERATORS[name].words(type)}${OPERATORS[name].negates ? ` ${WORDS.orIsEmpty}` : ""}` }))}
      choose={(key) => {
        const operator = alike.find((name) => name === key);
        if (operator) change(edit.changeOperator(spec, id, operator));
      }}
    />
  );
}

/** A day by its place to the day of the run. */
function RelativeDateSelect(props: PartProps) {
  const current = props.condition.values[props.index];
  return (
    <Select
      label={WORDS.orARelativeDate}
      value={current?.kind === "relative" ? current.date : ""}
      none
      options={(Object.keys(RELATIVE_DATES) as RelativeDate[]).map((date) => ({ key: date, words: RELATIVE_DATES[date].words }))}
      choose={(key) => key !== "" && give(props, { kind: "relative", date: key as RelativeDate })}
    />
  );
}

/** Another field of the row; of a group or a line another column. */
function BesideSelect(props: PartProps) {
  const { spec, schema, parent, condition, type, index } = props;
  const beside = valuesBeside(spec, schema, condition, type, parent).map((found) => ({ ...found, key: JSON.stringify(found.value) }));
  if (beside.length === 0) return null;
  const current = JSON.stringify(condition.values[index]);
  return (
    <Select
      label={condition.left.kind === "column" ? WORDS.orAnotherColumn : WORDS.orAnotherField}
      value={beside.some((b) => b.key === current) ? (current as string) : ""}
      none
      options={beside}
      choose={(key) => {
        const chosen = beside.find((b) => b.key === key);
        if (chosen) give(props, chosen.value);
      }}
    />
  );
}

function PersonChoice(props: PartProps) {
  const given = () => {
    give(props, { kind: "person" });
    props.close();
  };
  return (
    <Choice chosen={props.condition.values[props.index]?.kind === "person"} onClick={given}>
      {WORDS.theSignedInPerson}
    </Choice>
  );
}

/** A parameter there is, or a new one. */
function AskedChoices(props: PartProps) {
  const { spec, schema, change, close, id, index, condition, type } = props;
  const suitable = spec.parameters.filter((p) => suits(p, type, condition.operator));
  const current = condition.values[index];
  return (
    <>
      {suitable.length > 0 && <p className="caption pt-3 pb-1">{WORDS.askedWhenRun}</p>}
      {suitable.map(({ name }) => (
        <Choice
          key={name}
          chosen={current?.kind === "parameter" && current.name === name}
          onClick={() => {
            give(props, { kind: "parameter", name });
            close();
          }}
        >
          {name}
        </Choice>
      ))}
      <button
        type="button"
        className="link pt-2"
        onClick={() => {
          change(askWhenRun(spec, schema, id, index, type));
          close();
        }}
      >
        {WORDS.askWhenRun}
      </button>
    </>
  );
}

/** Puts a value in its place in the condition. */
const give = ({ spec, change, id, index }: PartProps, value: Value): void =>
  change(edit.changeCondition(spec, id, { values: withValue(spec, id, index, value) }));

type SelectProps = {
  label: string;
  value: string;
  options: { key: string; words: string }[];
  choose: (key: string) => void /** Whether none can be shown. */;
  none?: boolean;
};

function Select({ label, value, options, choose, none = false }: SelectProps) {
  return (
    <label className="grid gap-0.5 pt-2 text-small">
      {label}
      <select className="field" aria-label={label} value={value} onChange={(e) => choose(e.target.value)}>
        {none && <option value="">–</option>}
        {options.map((o) => (
          <option key={o.key} value={o.key}>
            {o.words}
          </option>
        ))}
      </select>
    </label>
  );
}
