"use client";

import { useState } from "react";
import type { PhraseTarget } from "@/core/brief/brief";
import { HOLDS_NAMES } from "@/core/query/choices";
import { comparisonOf, groupOf, placeOf } from "@/core/query/conditions";
import * as edit from "@/core/query/edit";
import { askWhenRun, suits, withValue } from "@/core/query/editParameters";
import { pickedBy } from "@/core/query/fromCell";
import { isLinked } from "@/core/query/joinWays";
import { OPERATORS, operatorsFor, operatorsLike, takesPeriod, writtenOperatorsFor } from "@/core/query/operators";
import { ROWS_OF_QUERY } from "@/core/query/planTable";
import { comparableFields, matchColumns, ownColumns } from "@/core/query/reach";
import { plannedType } from "@/core/query/resolve";
import { rowsToCompare } from "@/core/query/rowsToCompare";
import type { Condition, Operand, QuerySpec, Value } from "@/core/query/spec";
import { showsPercent } from "@/core/query/windows";
import type { Schema, Table } from "@/core/schema/schema";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/relative";
import { isComparable, isDated, text, type ValueType } from "@/core/types/valueType";
import { onEnter } from "@/ui/onEnter";
import { Choice, type EditorProps, FieldPicker, LedOn, Remove } from "../../editors/parts";
import { TypedLines } from "../../editors/TypedLines";
import { ValueInput } from "../../editors/ValueInput";
import { COMMON } from "../../words";
import { WORDS } from "../words";
import { SamplePairs } from "./SamplePairs";
import { ValueChoices } from "./ValueChoices";

function typeOfLeft(spec: QuerySpec, schema: Schema, condition: Condition): ValueType {
  const { left } = condition;
  // What a formula comes to is known when it is planned.
  const planned = left.kind === "formula" ? plannedType(spec, schema, left) : undefined;
  return planned ?? edit.operandTypeIn(spec, schema, left) ?? text;
}

/** The comparison of a condition. */
export function OperatorEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const condition = comparisonOf(spec, id);
  if (!condition) return null;
  const type = typeOfLeft(spec, schema, condition);
  const place = placeOf(spec, id);
  const compared = place?.of === "match" ? spec.joins.find((j) => j.id === place.join && !isLinked(j)) : undefined;
  // What a join compares has to be there before its rows are; groups and a query's rows have no tables beside them.
  const written = place?.of === "groups" || place?.of === "lines" || compared !== undefined || spec.source === ROWS_OF_QUERY;
  return (
    <>
      {compared && <SamplePairs spec={spec} schema={schema} join={compared.id} />}
      {(written ? writtenOperatorsFor(type) : operatorsFor(type)).map((name) => (
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

/** What a condition can ask of, where it stands: a field of the rows, a column of the groups, or one of a table that only has to match. */
function LeftPicker({
  of,
  caption,
  pick,
  remove,
  ...props
}: EditorProps & { of: string; caption: string; pick: (spec: QuerySpec, left: Operand) => void; remove?: () => void }) {
  const { spec, schema, close } = props;
  const place = placeOf(spec, of);
  if (place === undefined || place.of === "rows") return <FieldPicker {...props} caption={caption} formula pick={pick} {...(remove ? { remove } : {})} />;
  const lefts = place.of === "match" ? matchColumns(spec, schema, place.join) : ownColumns(spec, schema, place.of === "lines");
  return (
    <>
      <p className="caption pb-1">{caption}</p>
      <div className="max-h-56 overflow-auto">
        {lefts.map(({ left, words }) => (
          <Choice
            key={words}
            onClick={() => {
              pick(spec, left);
              close();
            }}
          >
            {words}
          </Choice>
        ))}
      </div>
      {remove && (
        <Remove
          onClick={() => {
            remove();
            close();
          }}
        >
          {COMMON.remove}
        </Remove>
      )}
    </>
  );
}

/** How many of a group's conditions must hold, and what is added to it. */
export function HoldsEditor(props: EditorProps & { id: string }) {
  const { spec, schema, change, close, id } = props;
  const [adding, setAdding] = useState(false);
  const group = groupOf(spec, id);
  if (!group) return null;
  const act = (next: QuerySpec) => {
    change(next);
    close();
  };
  if (adding)
    return (
      <LedOn>
        <LeftPicker {...props} of={id} caption={WORDS.fieldOfCondition} pick={(next, left) => change(edit.addToGroup(next, schema, id, left))} />
      </LedOn>
    );
  return (
    <>
      <p className="caption pb-1">{WORDS.ofTheseConditions}</p>
      {HOLDS_NAMES.map((holds) => (
        <Choice key={holds} chosen={group.holds === holds} onClick={() => act(edit.setHolds(spec, id, holds))}>
          {WORDS.holds[holds]}
        </Choice>
      ))}
      <div className="grid justify-items-start gap-1 pt-2">
        <button type="button" className="link" onClick={() => setAdding(true)}>
          {COMMON.addCondition}
        </button>
        <button type="button" className="link" onClick={() => act(edit.dissolveGroup(spec, id))}>
          {WORDS.dissolveGroup}
        </button>
      </div>
      <Remove onClick={() => act(edit.removeCondition(spec, id))}>{WORDS.removeTheseConditions}</Remove>
    </>
  );
}

/** The field of a condition: another, or a condition beside it of which one is enough. */
export function ConditionFieldEditor(props: EditorProps & { id: string }) {
  const { spec, schema, change, id } = props;
  const [beside, setBeside] = useState(false);
  if (beside)
    return (
      <LedOn>
        <LeftPicker {...props} of={id} caption={WORDS.orWhere} pick={(next, left) => change(edit.addAlternative(next, schema, id, left))} />
      </LedOn>
    );
  return (
    <>
      <LeftPicker
        {...props}
        of={id}
        caption={WORDS.fieldOfCondition}
        pick={(next, left) => change(edit.changeConditionField(next, schema, id, left))}
        remove={() => change(edit.removeCondition(spec, id))}
      />
      <button type="button" className="link pt-2" onClick={() => setBeside(true)}>
        {WORDS.addAlternative}
      </button>
    </>
  );
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

/** What a condition can compare with in the row itself: fields of its tables; of a group or a line the query's own columns. */
function comparedWith(spec: QuerySpec, schema: Schema, { id, left }: Condition, type: ValueType, parent?: Table): { value: Value; words: string }[] {
  if (left.kind !== "column")
    return comparableFields(spec, schema, left, type, parent).map(({ join, column, words }) => ({ value: { kind: "field", join, column }, words }));
  return ownColumns(spec, schema, placeOf(spec, id)?.of === "lines").flatMap(({ left: other, words }) => {
    const comparable = other.kind === "column" && other.id !== left.id && isComparable(type, edit.operandTypeIn(spec, schema, other) ?? text);
    return comparable ? [{ value: other, words }] : [];
  });
}

/** A value of a condition: written, or asked for when run. */
export function ValueEditor({ spec, schema, change, close, parent, values, id, index }: EditorProps & { id: string; index: number }) {
  const condition = comparisonOf(spec, id);
  if (!condition) return null;
  const type = typeOfLeft(spec, schema, condition);
  if (OPERATORS[condition.operator].values === "rows") return <RowsPicker spec={spec} schema={schema} change={change} close={close} condition={condition} />;
  const many = OPERATORS[condition.operator].values === "many";
  const period = takesPeriod(condition.operator);
  const alike = operatorsLike(condition.operator, type);
  const set = (values: Value[]) => change(edit.changeCondition(spec, id, { values }));
  const withAt = (value: Value) => withValue(spec, id, index, value);
  const current = condition.values[index];
  const suitable = spec.parameters.filter((p) => suits(p, type, condition.operator));
  const { left } = condition;
  const column = left.kind === "column" ? spec.columns.find((c) => c.id === left.id) : undefined;
  const percent = column !== undefined && showsPercent(column);
  const others = period ? [] : comparedWith(spec, schema, condition, type, parent);
  // What only has to match, and groups, have no rows of the query to offer values of.
  const offered =
    pickedBy(condition) !== null &&
    (type.kind === "text" || type.kind === "whole") &&
    placeOf(spec, id)?.of === "rows" &&
    !parent &&
    spec.source !== ROWS_OF_QUERY;
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
          percent={percent}
          label={WORDS.valuesOnePerLine}
          values={condition.values.map((v) => (v.kind === "value" ? v.text : ""))}
          onChange={(lines) => set(lines.map((text) => ({ kind: "value", text })))}
        />
      ) : (
        <div onKeyDown={onEnter(close)}>
          <ValueInput
            type={type}
            percent={percent}
            period={period}
            label={WORDS.value}
            value={current?.kind === "value" ? current.text : ""}
            onChange={(next) => set(withAt({ kind: "value", text: next }))}
          />
        </div>
      )}
      {alike.length > 1 && (
        <label className="grid gap-0.5 pt-2 text-small">
          {WORDS.comparison}
          <select
            className="field"
            aria-label={WORDS.comparison}
            value={condition.operator}
            onChange={(e) => {
              const operator = alike.find((name) => name === e.target.value);
              if (operator) change(edit.changeOperator(spec, id, operator));
            }}
          >
            {alike.map((name) => (
              <option key={name} value={name}>
                {OPERATORS[name].words(type)}
              </option>
            ))}
          </select>
        </label>
      )}
      {offered && <ValueChoices {...{ spec, change, values, condition }} />}
      {isDated(type) && !many && !period && (
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
      {!many && others.length > 0 && (
        <label className="grid gap-0.5 pt-2 text-small">
          {left.kind === "column" ? WORDS.orAnotherColumn : WORDS.orAnotherField}
          <select
            className="field"
            value={others.find((o) => JSON.stringify(o.value) === JSON.stringify(current))?.words ?? ""}
            onChange={(e) => {
              const chosen = others.find((o) => o.words === e.target.value);
              if (chosen) set(withAt(chosen.value));
            }}
          >
            <option value="">–</option>
            {others.map((o) => (
              <option key={o.words} value={o.words}>
                {o.words}
              </option>
            ))}
          </select>
        </label>
      )}
      {!many && left.kind !== "column" && !isDated(type) && type.kind !== "yesno" && (
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

/** The editor of a phrase of conditions alone: a figure's own, a rollup's. */
export function ConditionPhraseEditor({ target, ...props }: EditorProps & { target: PhraseTarget }) {
  switch (target.kind) {
    case "conditionField":
      return <ConditionFieldEditor {...props} id={target.id} />;
    case "holds":
      return <HoldsEditor {...props} id={target.id} />;
    case "operator":
      return <OperatorEditor {...props} id={target.id} />;
    case "value":
      return <ValueEditor {...props} id={target.id} index={target.index} />;
    default:
      return null;
  }
}

/** The columns of a query that its groups can be asked for; its lines, when all their columns are there, for those worked out from the lines beside too. */
export function ColumnConditionPicker({ spec, schema, change, close, lines = false }: EditorProps & { lines?: boolean }) {
  const add = lines ? edit.addLineCondition : edit.addGroupCondition;
  return (
    <>
      <p className="caption pb-1">{lines ? WORDS.thenOnlyWhere : WORDS.onlyGroupsWhere}</p>
      {ownColumns(spec, schema, lines).map(({ left, words }) => (
        <Choice
          key={left.kind === "column" ? left.id : words}
          onClick={() => {
            if (left.kind === "column") change(add(spec, schema, left.id));
            close();
          }}
        >
          {words}
        </Choice>
      ))}
    </>
  );
}
