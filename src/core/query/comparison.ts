import { writtenName } from "../expression/parse";
import { namedTable } from "../schema/rowNames";
import { type Column, findColumn, findTable, type Schema, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { parseDecimal } from "../types/decimal";
import { type Problem, problem, sentence } from "../types/problem";
import { isComparable, isNumber, type ValueType } from "../types/valueType";
import { mapComparisons, mapConditionLists } from "./conditions";
import { emptyQuery } from "./empty";
import { probeValues } from "./parameters";
import { tableOfPlan } from "./planTable";
import type { Resolve } from "./source";
import type { QueryColumn, QuerySpec, Value } from "./spec";

/*
 * Two sources held against each other by a key: the rows of a comparison, each of which is here, there or in both. They
 * are the source of a query, so that all a query can do can be done with them.
 *
 *   here → one row per key  ┐
 *                           ├→ put together → one row per key → state, here, there, difference
 *   there → one row per key ┘
 *
 * Each side has one row per key, its numbers added up and its rows counted: so the sums of a comparison are those of its
 * sides, whatever is doubled on either.
 */

/** The name of a comparison's rows among the tables. */
export const ROWS_COMPARED = "rows compared";
/** The sides, by their names among the tables. */
const [HERE, THERE, AGAIN] = ["rows here", "rows there", "rows again"] as const;
/** What tells rows with an empty key apart by their side. */
const APART = "apart";

/** What a row of a comparison is. A key that stands several times on a side is doubled, whatever its figures are. */
export const COMPARE_STATES = ["only here", "only there", "different", "doubled", "the same"] as const;
export type CompareState = (typeof COMPARE_STATES)[number];
/** The columns of a comparison that are not of its fields. */
export const STATE = "state";
export const ROWS_HERE = "rows_here";
export const ROWS_THERE = "rows_there";

export type Comparison = NonNullable<QuerySpec["compare"]>;
type Sides = { here: Table; there: Table };
/** A pair of fields, with the columns they are. */
type PairedColumns = { here: Column; there: Column };
/** A field carried along: of both sides, or of one alone. */
type CarriedColumns = { here: Column | null; there: Column | null };

/** The two sources of a comparison; undefined where one is gone. */
export function sidesOf({ here, there }: Comparison, schema: Schema): Partial<Sides> {
  return { here: findTable(schema, here), there: findTable(schema, there) };
}

const pairsOf = (pairs: Comparison["key"], { here, there }: Sides): (PairedColumns | null)[] =>
  pairs.map((pair) => {
    const [h, t] = [findColumn(here, pair.here), findColumn(there, pair.there)];
    return h && t && isComparable(h.type, t.type) ? { here: h, there: t } : null;
  });

/** What is carried along, with the columns it is; null where one is gone, or both cannot be one column. */
const carriedOf = (pairs: Comparison["key"], { here, there }: Sides): (CarriedColumns | null)[] =>
  pairs.map((pair) => {
    const carried = { here: findColumn(here, pair.here) ?? null, there: findColumn(there, pair.there) ?? null };
    if ((pair.here !== "" && !carried.here) || (pair.there !== "" && !carried.there)) return null;
    if (carried.here && carried.there && !isComparable(carried.here.type, carried.there.type)) return null;
    return carried.here || carried.there ? carried : null;
  });

/** What stands in the way of a comparison. */
export function comparisonProblems(comparison: Comparison, schema: Schema): Problem[] {
  const { here, there } = sidesOf(comparison, schema);
  const at = (part: string) => ["compare", part];
  if (!here) return [problem("tableGone", at("here"), { table: comparison.here })];
  if (comparison.there === "") return [problem("compareWith", at("there"))];
  if (!there) return [problem("tableGone", at("there"), { table: comparison.there })];
  const broken = [here, there].flatMap((t) => (t.rowsOf?.broken ? [problem("queryBroken", ["compare"], { name: t.label, why: t.rowsOf.broken })] : []));
  if (broken.length > 0) return broken;
  const unpaired = (part: "key" | "fields") =>
    pairsOf(comparison[part], { here, there }).flatMap((pair, i) =>
      pair ? [] : [problem("comparePair", [...at(part), i], { here: comparison[part][i]?.here ?? "", there: comparison[part][i]?.there ?? "" })],
    );
  if (comparison.key.length === 0) return [problem("compareKey", at("key"))];
  if (toleranceOf(comparison) === null) return [problem("compareTolerance", at("tolerance"))];
  const uncarried = carriedOf(comparison.carried ?? [], { here, there }).flatMap((pair, i) => {
    const asked = comparison.carried?.[i];
    return pair ? [] : [problem("compareCarried", [...at("carried"), i], { field: asked?.here || asked?.there || "" })];
  });
  return [...unpaired("key"), ...unpaired("fields"), ...uncarried];
}

/** The tolerance as a formula writes it; null where it is no number. */
function toleranceOf({ tolerance }: Comparison): string | null {
  const digits = tolerance.trim().replace(/^\+/, "");
  return digits !== "" && !digits.startsWith("-") && parseDecimal(digits, 9) !== null ? digits : null;
}

/** Names of a description's own parameters changed, wherever they are used. */
export function withParameterNames(spec: QuerySpec, named: (name: string) => string): QuerySpec {
  const renamed = (value: Value): Value => (value.kind === "parameter" ? { ...value, name: named(value.name) } : value);
  return {
    ...mapConditionLists(spec, (list) => mapComparisons(list, (c) => ({ ...c, values: c.values.map(renamed) }))),
    parameters: spec.parameters.map((p) => ({ ...p, name: named(p.name) })),
  };
}

/** The name of a parameter of the other side, where a query is compared with itself. */
export const parameterThere = (name: string): string => `${name} there`;

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const formula = (text: string) => ({ kind: "formula" as const, text });

/** What the columns of a side, and of both sides put together, are called in formulas. */
const names = {
  key: (i: number) => `k${i}`,
  rows: (side: Side) => `${side} rows`,
  field: (side: Side, i: number) => `${side} ${i}`,
  carried: (i: number) => `carried ${i}`,
};
type Side = keyof Sides;
const OTHER: Record<Side, Side> = { here: "there", there: "here" };
const n = (side: Side) => writtenName(names.rows(side));
const f = (side: Side, i: number) => writtenName(names.field(side, i));

/** A pair of fields, each put together for its key: numbers are added, of anything else the least is taken. */
const putTogether = ({ type }: Column) => (isNumber(type) ? "total" : oneOf(type));

/** What a comparison's rows are made of. */
type Parts = { keys: PairedColumns[]; fields: PairedColumns[]; carried: CarriedColumns[] };

/** No value, of a type. */
const nothingOf = ({ kind, ...type }: ValueType): string =>
  kind === "text"
    ? "NULLIF('', '')"
    : `CAST('' AS ${{ whole: "INTEGER", decimal: `DECIMAL(18, ${"scale" in type ? type.scale : 0})`, floating: "DOUBLE", date: "DATE", timestamp: "TIMESTAMP", yesno: "BOOLEAN" }[kind]})`;

/** The figure that gives the one value there is: the least of several. */
const oneOf = (type: ValueType): "any" | "least" => (type.kind === "yesno" ? "any" : "least");
const oneValue = (type: ValueType, text: string): string => `${oneOf(type) === "any" ? "ANY" : "MIN"}(${text})`;

/** One row per key of a side, with the columns of the other side, which are empty in it. */
function sideQuery(table: string, side: Side, { keys, fields, carried }: Parts): QuerySpec {
  const other = OTHER[side];
  const empty = (id: string, like: string): QueryColumn => ({ id, value: formula(`NULLIF(${like}, ${like})`), figure: "formula", label: id });
  const written = (column: Column) => `${{ total: "SUM", any: "ANY", least: "MIN" }[putTogether(column)]}(${writtenName(column.label)})`;
  const own = [
    { id: names.rows(side), value: null, figure: "count" as const, label: names.rows(side) },
    ...fields.map(
      (pair, i) => ({ id: names.field(side, i), value: field(pair[side].name), figure: putTogether(pair[side]), label: names.field(side, i) }) as const,
    ),
  ];
  const along = carried.map((pair, i): QueryColumn => {
    const [own, id] = [pair[side], names.carried(i)];
    if (own) return { id, value: field(own.name), figure: oneOf(own.type), label: id };
    const { type } = pair[other] as Column;
    return { id, value: formula(oneValue(type, nothingOf(type))), figure: "formula", label: id };
  });
  const others = [empty(names.rows(other), "COUNT(*)"), ...fields.map((pair, i) => empty(names.field(other, i), written(pair[side])))];
  return {
    ...emptyQuery(table),
    grouped: true,
    columns: [
      ...keys.map((pair, i): QueryColumn => ({ id: names.key(i), value: field(pair[side].name), label: names.key(i) })),
      ...(side === "here" ? [...own, ...others] : [...others, ...own]),
      ...along,
    ],
  };
}

/** Whether a pair of fields differs by more than a tolerance, as a formula over figures. */
function differs(i: number, type: ValueType, tolerance: string): string {
  const [h, t] = [valueOn("here", i, type), valueOn("there", i, type)];
  const apart = `${h} IS DISTINCT FROM ${t}`;
  return isNumber(type) && Number(tolerance) > 0 ? `(${apart} AND COALESCE(ABS(${h} - ${t}) > ${tolerance}, TRUE))` : apart;
}

/** What a side has in a group of both: one row at most, so any figure of it is its value. */
const valueOn = (side: Side, i: number, type: ValueType): string => oneValue(type, f(side, i));
const rowsOn = (side: Side): string => `SUM(${n(side)})`;

/**
 * Every row of both sides, by the key: what each is, and what stands on either side. Both are put together and grouped by
 * the key, which takes one walk through each; a key with an empty part is no other's.
 */
function matchedRows({ keys, fields, carried }: Parts, tolerance: string): QuerySpec {
  const figure = (id: string, text: string, heading: string): QueryColumn => ({ id, value: formula(text), figure: "formula", label: heading });
  const different = fields.map((pair, i) => differs(i, pair.here.type, tolerance)).join(" OR ");
  const cases: [CompareState, string][] = [
    ["doubled", `${rowsOn("here")} > 1 OR ${rowsOn("there")} > 1`],
    ["only there", `${rowsOn("here")} IS NULL`],
    ["only here", `${rowsOn("there")} IS NULL`],
    ...(different === "" ? [] : [["different", different] as [CompareState, string]]),
  ];
  const state = `CASE ${cases.map(([name, when]) => `WHEN ${when} THEN '${name}'`).join(" ")} ELSE 'the same' END`;
  // What both sides say of a row is what is said here.
  const along = carried.map(({ here, there }, i): QueryColumn => {
    const { type, label: heading } = (here ?? there) as Column;
    const on = (side: Side) => oneValue(type, `CASE WHEN ${n(side)} > 0 THEN ${writtenName(names.carried(i))} END`);
    return figure(names.carried(i), `COALESCE(${on("here")}, ${on("there")})`, heading);
  });
  const anyEmpty = keys.map((_, i) => `${names.key(i)} IS NULL`).join(" OR ");
  const label = ({ here }: PairedColumns) => here.label;
  return {
    ...emptyQuery(HERE),
    stack: { how: "all", parts: [THERE] },
    grouped: true,
    columns: [
      ...keys.map((pair, i): QueryColumn => ({ id: names.key(i), value: field(names.key(i)), label: label(pair) })),
      { id: APART, value: formula(`CASE WHEN ${anyEmpty} THEN CASE WHEN ${n("here")} IS NULL THEN 'there' ELSE 'here' END END`), label: APART },
      figure(STATE, state, "state"),
      ...along,
      ...fields.flatMap((pair, i): QueryColumn[] => {
        const [h, t] = [valueOn("here", i, pair.here.type), valueOn("there", i, pair.there.type)];
        return [
          figure(names.field("here", i), h, `${label(pair)} here`),
          figure(names.field("there", i), t, `${label(pair)} there`),
          ...(isNumber(pair.here.type) ? [figure(`difference ${i}`, `COALESCE(${t}, 0) - COALESCE(${h}, 0)`, `${label(pair)} difference`)] : []),
        ];
      }),
      figure(ROWS_HERE, `COALESCE(${rowsOn("here")}, 0)`, "rows here"),
      figure(ROWS_THERE, `COALESCE(${rowsOn("there")}, 0)`, "rows there"),
    ],
  };
}

/** The table whose rows a pair's values are keys of: as either side says, unless they say different ones. */
function rowsOfPair(pair: CarriedColumns, sides: Sides, schema: Schema): string | undefined {
  const told = (["here", "there"] as const).flatMap((side) => {
    const column = pair[side];
    return column ? (column.rowOf ?? namedTable(schema, sides[side].name, column.name)?.name ?? []) : [];
  });
  return new Set(told).size === 1 ? told[0] : undefined;
}

/** The columns of a comparison as they are read: what it is comes first, what tells empty keys apart is not shown; keys of rows are known as such. */
function comparedColumns(columns: Column[], { keys, carried }: Parts, sides: Sides, schema: Schema): Column[] {
  const led = new Map([
    ...keys.map((pair, i): [string, string | undefined] => [names.key(i), rowsOfPair(pair, sides, schema)]),
    ...carried.map((pair, i): [string, string | undefined] => [names.carried(i), rowsOfPair(pair, sides, schema)]),
  ]);
  const shown = columns.filter((c) => c.name !== APART).map((c) => ({ ...c, rowOf: led.get(c.name) }));
  return [...shown.filter((c) => c.name === STATE), ...shown.filter((c) => c.name !== STATE)];
}

/**
 * The schema in which a comparison's rows are a table.
 * @param resolve how a query is resolved: each side is one
 * @returns the schema itself for a description that compares nothing; a table that says what is wrong where it cannot be made
 */
export function comparisonSchema(schema: Schema, { compare, parameters }: Pick<QuerySpec, "compare" | "parameters">, today: Today, resolve: Resolve): Schema {
  if (!compare) return schema;
  const added = (tables: Table[]): Schema => ({ ...schema, queries: [...(schema.queries ?? []).filter((t) => !t.inner), ...tables] });
  const nothing = { label: "comparison", columns: [], key: [], rows: 0, inner: true };
  const broken = (why: Problem): Schema => added([{ ...nothing, name: ROWS_COMPARED, rowsOf: { spec: emptyQuery(ROWS_COMPARED), broken: sentence(why) } }]);
  const [wrong] = comparisonProblems(compare, schema);
  if (wrong) return broken(wrong);
  const sides = sidesOf(compare, schema) as Sides;
  // A query compared with itself is asked for other values of its parameters.
  const again = compare.here === compare.there && sides.there.rowsOf ? withParameterNames(sides.there.rowsOf.spec, parameterThere) : null;
  const base: Table[] = again ? [{ ...sides.there, name: AGAIN, rowsOf: { spec: again }, inner: true }] : [];
  const parts: Parts = {
    keys: pairsOf(compare.key, sides) as PairedColumns[],
    fields: pairsOf(compare.fields, sides) as PairedColumns[],
    carried: carriedOf(compare.carried ?? [], sides) as CarriedColumns[],
  };
  const asTable = (name: string, label: string, spec: QuerySpec, within: Schema): Table | Problem => {
    const resolved = resolve(spec, within, { today, values: probeValues([...parameters, ...(again?.parameters ?? [])]), probing: true });
    if (!resolved.ok) return resolved.problems[0] as Problem;
    const table = tableOfPlan(resolved.value, name, label);
    // One row per key: no value of a comparison is repeated by another.
    return { ...table, columns: table.columns.map((c) => ({ ...c, home: undefined })), rowsOf: { spec }, inner: true };
  };
  const side = (name: string, table: string, of: Side) => asTable(name, of, sideQuery(table, of, parts), added(base));
  const here = side(HERE, compare.here, "here");
  const far = side(THERE, again ? AGAIN : compare.there, "there");
  if ("code" in here) return broken(here);
  if ("code" in far) return broken(far);
  const both = [...base, here, far];
  const rows = asTable(ROWS_COMPARED, "comparison", matchedRows(parts, toleranceOf(compare) ?? "0"), added(both));
  return "code" in rows ? broken(rows) : added([...both, { ...rows, columns: comparedColumns(rows.columns, parts, sides, schema) }]);
}
