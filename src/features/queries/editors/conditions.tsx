"use client";

import { useState } from "react";
import type { PhraseTarget } from "@/core/brief/brief";
import { HOLDS_NAMES } from "@/core/query/choices";
import { comparisonOf, groupOf, placeOf } from "@/core/query/conditions";
import * as edit from "@/core/query/edit";
import { isLinked } from "@/core/query/joinWays";
import { OPERATORS, operatorsFor, writtenOperatorsFor } from "@/core/query/operators";
import { ROWS_OF_QUERY } from "@/core/query/planTable";
import { matchColumns, ownColumns } from "@/core/query/reach";
import type { Operand, QuerySpec } from "@/core/query/spec";
import { Choice, type EditorProps, FieldPicker, LedOn, Remove } from "../../editors/parts";
import { COMMON } from "../../words";
import { WORDS } from "../words";
import { SamplePairs } from "./SamplePairs";
import { typeOfLeft, ValueEditor } from "./values";

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
