import { findColumn, findTable, type Schema, type Table } from "../schema/schema";
import { isComparable, isNumber, type ValueType } from "../types/valueType";
import type { MarkTest } from "./choices";
import { schemaRead } from "./comparedSchema";
import { COMPARE_STATES, type CompareState, type Comparison, ROWS_COMPARED, ROWS_HERE, ROWS_THERE, STATE, sidesOf } from "./comparison";
import { isGroup, mapComparisons } from "./conditions";
import { freshId, removeCondition } from "./edit";
import { emptyQuery } from "./empty";
import { toggleValue, writtenValues } from "./fromCell";
import type { Mark } from "./marks";
import { sameName } from "./operands";
import { pairCandidates, proposePairs } from "./proposePairs";
import type { Condition, QueryColumn, QuerySpec } from "./spec";

/*
 * Changes to a comparison: its two sources, the fields its rows are matched by, those that are held against each other.
 */

/** A comparison of a source with one that is still to be chosen. */
export const startComparison = (here: string): QuerySpec => ({
  ...emptyQuery(ROWS_COMPARED),
  compare: { here, there: "", key: [], fields: [], tolerance: "0" },
});

/** The fields by which rows of two sources are likely the same: told by their keys' names, else a column of one name, or of a word: a text before a number. */
export function proposeKey(here: Table, there: Table): Comparison["key"] {
  const [named] = proposePairs(here, there);
  if (named) return [{ here: named.near, there: named.far }];
  const likely = [...alikeColumns(here, there), ...pairCandidates(here, there).map((p) => ({ here: p.near, there: p.far }))];
  const ofKind = (kind: ValueType["kind"]) => likely.find((p) => findColumn(here, p.here)?.type.kind === kind);
  const found = ofKind("text") ?? ofKind("whole");
  return found ? [{ here: found.here, there: found.there }] : [];
}

/** Columns of one name and of types that can be compared. */
function alikeColumns(here: Table, there: Table) {
  return here.columns.flatMap((c) => {
    const other = there.columns.find((t) => isComparable(c.type, t.type) && (sameName(c.label, t.label) || sameName(c.name, t.name)));
    return other ? [{ here: c.name, there: other.name, type: c.type }] : [];
  });
}

/** The figures of one name on both sides, without what rows are matched by. */
export function proposeFields(here: Table, there: Table, key: Comparison["key"]): Comparison["fields"] {
  const figures = alikeColumns(here, there).filter((p) => isNumber(p.type) && p.type.kind !== "whole" && !key.some((k) => k.here === p.here));
  return figures.map(({ here: h, there: t }) => ({ here: h, there: t }));
}

/** How many fields are carried along at first. */
const CARRIED_AT_FIRST = 3;

/** The texts and dates of one name on both sides, which say what a row is: shown beside at first. */
export function proposeCarried(here: Table, there: Table, key: Comparison["key"]): Comparison["key"] {
  const words = alikeColumns(here, there).filter((p) => (p.type.kind === "text" || p.type.kind === "date") && !key.some((k) => k.here === p.here));
  return words.slice(0, CARRIED_AT_FIRST).map(({ here: h, there: t }) => ({ here: h, there: t }));
}

/** Another source on a side; what was matched and held against each other is proposed anew. */
export function setSide(spec: QuerySpec, schema: Schema, side: "here" | "there", name: string): QuerySpec {
  if (!spec.compare) return spec;
  const compare = { ...spec.compare, [side]: name };
  const { here, there } = sidesOf(compare, schema);
  if (!here || !there) return changed(spec, schema, { ...compare, key: [], fields: [], carried: undefined });
  const key = proposeKey(here, there);
  return changed(spec, schema, { ...compare, key, fields: proposeFields(here, there, key), ...along(proposeCarried(here, there, key)) });
}

/** The fields rows are matched by. A figure that became one of them is held against nothing. */
export function setKey(spec: QuerySpec, schema: Schema, key: Comparison["key"]): QuerySpec {
  if (!spec.compare) return spec;
  const apart = (pairs: Comparison["key"] = []) => pairs.filter((f) => !key.some((k) => k.here === f.here));
  return changed(spec, schema, { ...spec.compare, key, fields: apart(spec.compare.fields), ...along(apart(spec.compare.carried)) });
}

export const setFields = (spec: QuerySpec, schema: Schema, fields: Comparison["fields"]): QuerySpec =>
  spec.compare ? changed(spec, schema, { ...spec.compare, fields }) : spec;

const along = (carried: Comparison["key"]) => ({ carried: carried.length > 0 ? carried : undefined });

/** The fields that are shown beside. */
export const setCarried = (spec: QuerySpec, schema: Schema, carried: Comparison["key"]): QuerySpec =>
  spec.compare ? changed(spec, schema, { ...spec.compare, ...along(carried) }) : spec;

/** Another tolerance; the marks of what differs go by it. */
export function setTolerance(spec: QuerySpec, tolerance: string): QuerySpec {
  const { compare, marks } = spec;
  if (!compare) return spec;
  const own = (mark: Mark) => mark.test === BEYOND && mark.value === compare.tolerance;
  return { ...spec, compare: { ...compare, tolerance }, ...(marks ? { marks: marks.map((m) => (own(m) ? { ...m, value: tolerance } : m)) } : {}) };
}

/** The states shown at first: all in which something is to be looked at. */
const SHOWN: CompareState[] = COMPARE_STATES.filter((state) => state !== "the same");

/** A comparison changed, with the columns it then has: all but how many rows there are on either side. What asked of others goes. */
function changed(spec: QuerySpec, schema: Schema, compare: Comparison): QuerySpec {
  const next: QuerySpec = { ...emptyQuery(ROWS_COMPARED), compare, parameters: spec.parameters };
  const table = findTable(schemaRead(schema, next), ROWS_COMPARED);
  if (!table || table.rowsOf?.broken) return next;
  const columns = table.columns.filter((c) => c.name !== ROWS_HERE && c.name !== ROWS_THERE);
  const known = (condition: Condition) =>
    condition.left.kind === "field" && columns.some((c) => condition.left.kind === "field" && c.name === condition.left.column);
  const conditions = mapComparisons(spec.conditions, (c) => (known(c) ? c : null));
  const first: Condition = { id: "state", left: stateField, operator: "oneOf", values: SHOWN.map((text) => ({ kind: "value", text })) };
  const shown = columns.map((c, i): QueryColumn => ({ id: `c${i + 1}`, value: { kind: "field", join: "", column: c.name } }));
  return {
    ...next,
    conditions: conditions.length > 0 ? conditions : [first],
    columns: shown,
    marks: differing(shown, compare),
    order: shown.slice(0, 1 + compare.key.length).map((c) => ({ column: c.id, direction: "up" })),
  };
}

/** The comparison by which what differs is marked. */
const BEYOND: MarkTest = "beyond";

/** What differs by more than is taken as the same is marked: the value there, by the difference. */
function differing(columns: QueryColumn[], { fields, tolerance }: Comparison): QuerySpec["marks"] {
  const idOf = (name: string) => columns.find((c) => c.value?.kind === "field" && c.value.column === name)?.id;
  const marks = fields.flatMap((_, i) => {
    const [there, difference] = [idOf(`there ${i}`), idOf(`difference ${i}`)];
    return there && difference
      ? [{ id: `m${i + 1}`, column: there, look: "shade" as const, tone: "look" as const, test: BEYOND, value: tolerance, by: difference }]
      : [];
  });
  return marks.length > 0 ? marks : undefined;
}

const stateField = { kind: "field" as const, join: "", column: STATE };

/** The condition on what a row of the comparison is. */
export const stateCondition = ({ conditions }: QuerySpec): Condition | undefined =>
  conditions.find(
    (c): c is Condition =>
      !isGroup(c) && c.left.kind === "field" && c.left.join === "" && c.left.column === STATE && (c.operator === "is" || c.operator === "oneOf"),
  );

/** The states that are shown; all where nothing is said of them. */
export function statesShown(spec: QuerySpec): CompareState[] {
  const condition = stateCondition(spec);
  const named = condition ? writtenValues(condition) : [];
  return COMPARE_STATES.filter((state) => named.length === 0 || named.includes(state));
}

/** Shows the rows of one state alone. */
export const showState = (spec: QuerySpec, state: CompareState): QuerySpec => toggleState(toggleState(spec, null), state);

/** Shows rows of a state, or no longer; where none is left, or all are, nothing is asked of it. null: shows all. */
export function toggleState(spec: QuerySpec, state: CompareState | null): QuerySpec {
  const condition = stateCondition(spec);
  if (state === null) return condition ? removeCondition(spec, condition.id) : spec;
  if (!condition) {
    const added: Condition = { id: freshId(spec, "w"), left: stateField, operator: "is", values: [{ kind: "value", text: state }] };
    return { ...spec, conditions: [added, ...spec.conditions] };
  }
  const next = toggleValue(spec, condition.id, state);
  const left = writtenValues(stateCondition(next) ?? condition).length;
  return left === 0 || left === COMPARE_STATES.length ? removeCondition(spec, condition.id) : next;
}
