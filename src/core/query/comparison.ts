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
 *   here → one row per key ┐
 *                          ├→ every row of both, by the key → state, here, there, difference
 *   there → one row per key┘
 *
 * Each side has one row per key, its numbers added up and its rows counted: so the sums of a comparison are those of its
 * sides, whatever is doubled on either.
 */

/** The name of a comparison's rows among the tables. */
export const ROWS_COMPARED = "rows compared";
/** The sides: their names among the tables, and what formulas call the other one. */
const [HERE, THERE, AGAIN] = ["rows here", "rows there", "rows again"] as const;
const OTHER = "there";

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

/** The two sources of a comparison; undefined where one is gone. */
export function sidesOf({ here, there }: Comparison, schema: Schema): Partial<Sides> {
  return { here: findTable(schema, here), there: findTable(schema, there) };
}

const pairsOf = (pairs: Comparison["key"], { here, there }: Sides): (PairedColumns | null)[] =>
  pairs.map((pair) => {
    const [h, t] = [findColumn(here, pair.here), findColumn(there, pair.there)];
    return h && t && isComparable(h.type, t.type) ? { here: h, there: t } : null;
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
  return [...unpaired("key"), ...unpaired("fields")];
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

/** The names that a comparison's columns have in its formulas; those of the other side are told by its table. */
const names = { key: (i: number) => `k${i}`, field: (i: number) => `f${i}`, rows: "n" };
const there = (name: string) => `${OTHER}.${name}`;

/** One row per key of a side. */
function sideQuery(table: string, keys: Column[], fields: Column[]): QuerySpec {
  const figure = (type: ValueType) => (isNumber(type) ? "total" : type.kind === "yesno" ? "any" : "least");
  return {
    ...emptyQuery(table),
    grouped: true,
    columns: [
      ...keys.map((c, i): QueryColumn => ({ id: names.key(i), value: field(c.name), label: names.key(i) })),
      { id: names.rows, value: null, figure: "count", label: names.rows },
      ...fields.map((c, i): QueryColumn => ({ id: names.field(i), value: field(c.name), figure: figure(c.type), label: names.field(i) })),
    ],
  };
}

/** Whether a pair of fields differs by more than a tolerance, as a formula. */
function differs(i: number, type: ValueType, tolerance: string): string {
  const [h, t] = [names.field(i), there(names.field(i))];
  const apart = `${h} IS DISTINCT FROM ${t}`;
  return isNumber(type) && Number(tolerance) > 0 ? `(${apart} AND COALESCE(ABS(${h} - ${t}) > ${tolerance}, TRUE))` : apart;
}

/** Every row of both sides, by the key: what each is, and what stands on either side. */
function matchedRows(keys: PairedColumns[], fields: PairedColumns[], tolerance: string): QuerySpec {
  const n = names.rows;
  const different = fields.map((f, i) => differs(i, f.here.type, tolerance)).join(" OR ");
  const cases: [CompareState, string][] = [
    ["doubled", `${n} > 1 OR ${there(n)} > 1`],
    ["only there", `${n} IS NULL`],
    ["only here", `${there(n)} IS NULL`],
    ...(different === "" ? [] : [["different", different] as [CompareState, string]]),
  ];
  const state = `CASE ${cases.map(([name, when]) => `WHEN ${when} THEN '${name}'`).join(" ")} ELSE 'the same' END`;
  const label = ({ here }: PairedColumns) => here.label;
  return {
    ...emptyQuery(HERE),
    joins: [
      {
        id: "there",
        from: "",
        table: THERE,
        way: "both",
        on: keys.map((_, i) => ({ id: `on ${i}`, left: field(names.key(i), "there"), operator: "is", values: [field(names.key(i))] })),
      },
    ],
    columns: [
      { id: STATE, value: formula(state), label: "state" },
      ...keys.map((pair, i): QueryColumn => ({ id: names.key(i), value: formula(`COALESCE(${names.key(i)}, ${there(names.key(i))})`), label: label(pair) })),
      ...fields.flatMap((pair, i): QueryColumn[] => [
        { id: `here ${i}`, value: field(names.field(i)), label: `${label(pair)} here` },
        { id: `there ${i}`, value: field(names.field(i), "there"), label: `${label(pair)} there` },
        ...(isNumber(pair.here.type)
          ? [
              {
                id: `difference ${i}`,
                value: formula(`COALESCE(${there(names.field(i))}, 0) - COALESCE(${names.field(i)}, 0)`),
                label: `${label(pair)} difference`,
              },
            ]
          : []),
      ]),
      { id: ROWS_HERE, value: formula(`COALESCE(${n}, 0)`), label: "rows here" },
      { id: ROWS_THERE, value: formula(`COALESCE(${there(n)}, 0)`), label: "rows there" },
    ],
  };
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
  const keys = pairsOf(compare.key, sides) as PairedColumns[];
  const fields = pairsOf(compare.fields, sides) as PairedColumns[];
  const asTable = (name: string, label: string, spec: QuerySpec, within: Schema): Table | Problem => {
    const resolved = resolve(spec, within, { today, values: probeValues([...parameters, ...(again?.parameters ?? [])]), probing: true });
    if (!resolved.ok) return resolved.problems[0] as Problem;
    const table = tableOfPlan(resolved.value, name, label);
    // One row per key: no value of a comparison is repeated by another.
    return { ...table, columns: table.columns.map((c) => ({ ...c, home: undefined })), rowsOf: { spec }, inner: true };
  };
  const side = (name: string, table: string, of: keyof Sides) =>
    asTable(
      name,
      of,
      sideQuery(
        table,
        keys.map((k) => k[of]),
        fields.map((f) => f[of]),
      ),
      added(base),
    );
  const here = side(HERE, compare.here, "here");
  const far = side(THERE, again ? AGAIN : compare.there, "there");
  if ("code" in here) return broken(here);
  if ("code" in far) return broken(far);
  const key = compare.key.map((_, i) => names.key(i));
  const both = [...base, { ...here, key }, { ...far, key }];
  const rows = asTable(ROWS_COMPARED, "comparison", matchedRows(keys, fields, toleranceOf(compare) ?? "0"), added(both));
  return "code" in rows ? broken(rows) : added([...both, rows]);
}
