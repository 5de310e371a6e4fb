import { writtenOut } from "../posting/coerce";
import type { ProofPick } from "../proof/proof";
import { planProofRows } from "../proof/proofRows";
import { type Column, findColumn, type Table } from "../schema/schema";
import { type Checked, type Problem, problem } from "../types/problem";
import { type Cell, isMisfit, type ValueType } from "../types/valueType";
import { type Comparison, STATE } from "./comparison";
import { emptyQuery } from "./empty";
import { JOIN_WAYS } from "./joinWays";
import type { RunContext } from "./operands";
import { overRows, resolveOver } from "./over";
import { isKey, lateConditions, type Plan } from "./plan";
import type { ConditionTree, QueryColumn, QuerySpec } from "./spec";

/*
 * Why rows of a comparison stand on one side alone: what they have in common there, and which step of the other side's
 * query left them out.
 *
 *   their keys → on their own side: columns that say one thing of all of them
 *              → on the other side, where it is a query: the steps of its account that leave such rows out
 */

export type Side = "here" | "there";
export const otherSide = (side: Side): Side => (side === "here" ? "there" : "here");

/** How many rows are looked into: the first by their key. */
export const MOST_LOOKED_INTO = 500;

const field = (column: string) => ({ kind: "field" as const, join: "", column });

/** The rows that a side has alone, by their keys, in order. */
export function keysOnOneSide({ source, compare, parameters }: QuerySpec, side: Side): QuerySpec {
  const keys = (compare?.key ?? []).map((_, i): QueryColumn => ({ id: `k${i}`, value: field(`k${i}`) }));
  return {
    ...emptyQuery(source),
    ...(compare ? { compare } : {}),
    parameters,
    conditions: [{ id: "state", left: field(STATE), operator: "is", values: [{ kind: "value", text: `only ${side}` }] }],
    columns: keys,
    order: keys.map((c) => ({ column: c.id, direction: "up" })),
  };
}

/** Keys of a comparison's rows: a cell a column, none empty, of the comparison's own types. */
export type Keys = { types: ValueType[]; keys: Cell[][] };

/**
 * The condition that a row has one of some keys.
 * @param columns of the key, by their names where they are asked for
 */
export function hasOneOfKeys(columns: string[], { types, keys }: Keys): ConditionTree {
  const text = (cell: Cell | undefined, i: number) => ({ kind: "value" as const, text: writtenOut(cell as string | number, types[i] as ValueType) });
  const [only] = columns;
  if (columns.length === 1) return { id: "keys", left: field(only as string), operator: "oneOf", values: keys.map(([cell]) => text(cell, 0)) };
  const one = (key: Cell[], n: number): ConditionTree => ({
    id: `key ${n}`,
    holds: "all",
    of: columns.map((column, i) => ({ id: `key ${n} ${i}`, left: field(column), operator: "is", values: [text(key[i], i)] })),
  });
  return { id: "keys", holds: "any", of: keys.map(one) };
}

/** Keys that can be looked for: those without an empty part or a value that does not fit. */
export const soughtKeys = (keys: Cell[][]): Cell[][] => keys.filter((key) => key.every((cell) => cell !== null && !isMisfit(cell)));

/** How many columns are asked what they have in common. */
const MOST_COLUMNS = 60;

/** The columns of a side that could say what its rows have in common: all but those that are matched by or compared. */
export const tellingColumns = (table: Table, { key, fields }: Comparison, side: Side): Column[] =>
  table.columns.filter((c) => ![...key, ...fields].some((pair) => pair[side] === c.name) && c.type.kind !== "floating").slice(0, MOST_COLUMNS);

/** Rows counted, and of each column how many different values there are, how many rows have one, and the least. */
export const commonQuery = (table: string, columns: Column[], rows: ConditionTree): QuerySpec => ({
  ...emptyQuery(table),
  conditions: [rows],
  grouped: true,
  columns: [
    { id: "rows", value: null, figure: "count" },
    ...columns.flatMap((c, i): QueryColumn[] => [
      { id: `d${i}`, value: field(c.name), figure: "countDifferent" },
      { id: `n${i}`, value: field(c.name), figure: "count" },
      { id: `v${i}`, value: field(c.name), figure: c.type.kind === "yesno" ? "any" : "least" },
    ]),
  ],
});

/** A column that says one thing of some rows; the cell is null where it is empty in all of them. */
export type Common = { column: Column; cell: Cell };

/** The answer of `commonQuery`: the columns that say the same of all rows. */
export function readCommon([rows = 0, ...row]: Cell[], columns: Column[]): Common[] {
  return columns.flatMap((column, i): Common[] => {
    const [different, filled, cell = null] = row.slice(3 * i, 3 * i + 3);
    if (Number(filled) === 0) return [{ column, cell: null }];
    return Number(different) === 1 && Number(filled) === Number(rows) && !isMisfit(cell) ? [{ column, cell }] : [];
  });
}

/** How many rows a side has, and how many of them have what some have in common. */
export const sharedQuery = (table: string, common: Common[]): QuerySpec => ({
  ...emptyQuery(table),
  grouped: true,
  columns: [
    { id: "rows", value: null, figure: "count" },
    ...common.map(({ column, cell }, i): QueryColumn => ({ id: `c${i}`, value: null, figure: "count", where: [has(column, cell, `w${i}`)] })),
  ],
});

const has = ({ name, type }: Column, cell: Cell, id: string): ConditionTree =>
  cell === null
    ? { id, left: field(name), operator: "empty", values: [] }
    : { id, left: field(name), operator: "is", values: [{ kind: "value", text: writtenOut(cell as string | number, type) }] };

/** Of what is common, how many other rows of the side have it too. */
export type Shared = Common & { others: number };

/** What is common says something where no more than a tenth of the side's other rows have it too. */
const MOST_OTHERS = 0.1;
/** Of fewer rows only what is empty is told: a value that two have in common says little. */
const LEAST_ALIKE = 3;
/** How many are told. */
const MOST_TOLD = 3;

/**
 * What rows on one side alone have in common that other rows there do not; what the fewest others have first.
 * @param alone how many rows those are
 * @param row the answer of `sharedQuery`
 */
export function readShared(common: Common[], alone: number, [rows = 0, ...row]: Cell[]): Shared[] {
  const rest = Number(rows) - alone;
  return common
    .map((c, i) => ({ ...c, others: Number(row[i] ?? 0) - alone }))
    .filter((c) => rest > 0 && c.others <= rest * MOST_OTHERS && (c.cell === null || alone >= LEAST_ALIKE))
    .sort((a, b) => a.others - b.others)
    .slice(0, MOST_TOLD);
}

/** A step of a query that leaves rows out. */
export type LosingStep = { pick: ProofPick; words: string };

/** The steps of a query's account that leave rows out, in order. */
export function losingSteps(plan: Plan): LosingStep[] {
  const joins = plan.joins.filter((j) => !j.auxiliary && !JOIN_WAYS[j.way].keepsNear);
  return [
    ...plan.conditions.map((c) => ({ pick: { part: "leftOut" as const, id: c.id }, words: c.leftOut ?? `left out by ${c.label}` })),
    ...joins.map((j) => ({ pick: { part: "missing" as const, id: j.id }, words: `${j.path.at(-1) ?? j.table.label} missing, left out` })),
    ...lateConditions(plan).map((c) =>
      plan.grouped
        ? { pick: { part: "leftOutGroups" as const, id: c.id }, words: c.leftOut ?? `groups left out by ${c.label}` }
        : { pick: { part: "leftOut" as const, id: c.id }, words: c.leftOut ?? `left out by ${c.label}` },
    ),
  ];
}

/**
 * How many different keys of some stand among the rows of a step.
 * @param columns of the query, by their ids, that are the key
 * @returns the plan of one figure; problems where the step's rows do not have the key
 */
export function planKeysAt(plan: Plan, pick: ProofPick, columns: string[], { types, keys }: Keys, context: RunContext): Checked<Plan> {
  const rows = planProofRows(plan, pick);
  if (!rows || columns.some((id) => !rows.columns.some((c) => c.id === id))) return { ok: false, problems: [noKey(columns)] };
  const spec: QuerySpec = {
    ...overRows(),
    conditions: [hasOneOfKeys(columns, { types, keys })],
    grouped: true,
    columns: columns.map((id) => ({ id, value: field(id) })),
  };
  return resolveOver(spec, rows, context);
}

const noKey = (columns: string[]): Problem => problem("columnGone", [], { table: "rows", column: columns.join(", ") });

/** Whether the key of a comparison is made of a query's own rows, so that it can be looked for behind its steps. */
export const isTraceable = (plan: Plan, columns: string[]): boolean =>
  columns.every((id) => {
    const column = plan.columns.find((c) => c.id === id);
    return column !== undefined && column.expr !== null && !column.window && (!plan.grouped || isKey(column));
  });

/** A key's column as the sheet of a comparison knows it. */
export const keyTypes = (rows: Table, { key }: Comparison): ValueType[] => key.map((_, i) => findColumn(rows, `k${i}`)?.type as ValueType);
