import fc from "fast-check";
import { withDerivedFields } from "@/core/derive/derive";
import { AGGREGATES } from "@/core/query/aggregates";
import type { AggregateName } from "@/core/query/choices";
import { BACK_NAMES, type BackName, HOLDS_NAMES, WINDOW_NAMES, type WindowName } from "@/core/query/choices";
import { emptyQuery } from "@/core/query/empty";
import { brings } from "@/core/query/joinWays";
import { OPERATORS, operatorsFor, takesPeriod, valuesNeeded } from "@/core/query/operators";
import { relatedFigure } from "@/core/query/related";
import type { ComparedJoin, Condition, ConditionTree, Join, LinkedJoin, Operand, Parameter, QueryColumn, QuerySpec, Value } from "@/core/query/spec";
import { WINDOWS } from "@/core/query/windows";
import { type Column, findTable } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { GROUP_PARTS } from "@/core/types/date";
import { isComparable, isDated, isNumber, type ValueType } from "@/core/types/valueType";
import { sampleDerived, sampleSchema } from "./sample";

/** The sample with a derived field of every kind, on every table. */
export const derivedSchema = withDerivedFields(sampleSchema, sampleDerived, usualDay("2026-11-23"));
const field = (column: string, join = ""): Extract<Operand, { kind: "field" }> => ({ kind: "field", join, column });

/** Values to compare with, by type. */
export const VALUES: Record<ValueType["kind"], string[]> = {
  text: ["apple", "eclair", "50%"],
  whole: ["7", "-2", "20"],
  decimal: ["12.50", "-1", "3000.125"],
  floating: ["0.25", "0.5", "0.75"],
  date: ["2024-06-01", "2025-12-31", "2026-02-10"],
  timestamp: ["2024-06-01", "2025-03-31 10:30", "2026-02-10 23:59:59"],
  yesno: ["yes", "no", "yes"],
};

/** Formulas over a crate, of every type. */
const FORMULAS = [
  "price - mass * 2",
  "ROUND(price / NULLIF(pieces, 0), 2)",
  "price * pieces",
  "MOD(pieces, 7)",
  "COALESCE(price, 0) + 1",
  "UPPER(mark) || '/' || pieces",
  "CASE WHEN sealed THEN price ELSE mass END",
  "day + 31",
  "EXTRACT(DOW FROM day)",
  "CAST(price AS INTEGER)",
  "pieces IN (1, 2, 3)",
  "SUBSTRING(mark, pieces, 2)",
  "INITCAP(mark)",
  "SPLIT_PART(mark, 'e', 2)",
  "TO_CHAR(price * 1000, '#,##000.0')",
  "CASE WHEN REGEXP_LIKE(mark, '^[a-m]|[^\\w ]{1,2}$') THEN mark ELSE 'other' END",
];

type Brought = { join: string; table: string };
const PARAMETERS: Parameter[] = [
  { name: "from", type: "date", default: { kind: "fixed", text: "2025-01-01" } },
  { name: "least", type: "decimal", default: { kind: "fixed", text: "12.5" } },
  { name: "left empty", type: "text", optional: true },
];

const columnsOf = (brought: Brought[]): { join: string; c: Column }[] =>
  brought.flatMap(({ join, table }) => findTable(derivedSchema, table)?.columns.map((c) => ({ join, c })) ?? []);

/** A value beside a field: typed, of another field of its type, or of a parameter. */
function valueArbitrary(type: ValueType, fields: { join: string; c: Column }[]): fc.Arbitrary<Value> {
  const typed = fc.constantFrom(...VALUES[type.kind]).map((text): Value => ({ kind: "value", text }));
  const same = fields.filter(({ c }) => c.type.kind === type.kind);
  const other = same.length === 0 ? typed : fc.constantFrom(...same).map(({ join, c }): Value => ({ kind: "field", join, column: c.name }));
  const name = type.kind === "date" ? "from" : type.kind === "decimal" ? "least" : type.kind === "text" ? "left empty" : null;
  const parameter = name === null ? typed : fc.constant<Value>({ kind: "parameter", name });
  return fc.oneof({ weight: 3, arbitrary: typed }, { weight: 2, arbitrary: other }, { weight: 1, arbitrary: parameter });
}

/** The values of a column of a table or saved query. */
const rowsArbitrary = (type: ValueType): fc.Arbitrary<Value> =>
  fc.constantFrom(
    ...derivedSchema.tables.flatMap((t) =>
      t.columns.filter((c) => isComparable(type, c.type)).map((c): Value => ({ kind: "rows", table: t.name, column: c.name })),
    ),
  );

/** What each parameter comes to, where a range must not be the wrong way round. */
const fixedText = (v: Value): string | null => {
  const given = v.kind === "parameter" ? PARAMETERS.find((p) => p.name === v.name)?.default : undefined;
  return v.kind === "value" ? v.text : given?.kind === "fixed" ? given.text : null;
};

/** Typed values and parameters from the least to the greatest: a range the wrong way round is refused. */
const inOrder = (values: Value[], type: ValueType): Value[] => {
  const known = values.map(fixedText);
  if (known.includes(null)) return values;
  const size = (text: string) => (isNumber(type) ? Number(text) : text);
  return [...values].sort((a, b) => (size(fixedText(a) ?? "") < size(fixedText(b) ?? "") ? -1 : 1));
};

const periodArbitrary = fc.constantFrom("2025-03-01/2025-09-30", "2024-02-29/2024-02-29", "lastYear").map((text): Value => ({ kind: "value", text }));

function conditionArbitrary(brought: Brought[]): fc.Arbitrary<Condition> {
  const fields = columnsOf(brought);
  return fc.constantFrom(...fields).chain(({ join, c }) =>
    fc.constantFrom(...operatorsFor(c.type)).chain((operator) => {
      const size = OPERATORS[operator].values === "many" ? 2 : valuesNeeded(operator);
      // A pattern has to be known before the rows are read.
      const pattern = fc.constantFrom("%pp%", "_clair", "50\\%%", "%_%").map((text): Value => ({ kind: "value", text }));
      return fc
        .array(
          takesPeriod(operator)
            ? periodArbitrary
            : OPERATORS[operator].values === "rows"
              ? rowsArbitrary(c.type)
              : /like/i.test(operator)
                ? pattern
                : valueArbitrary(c.type, fields),
          {
            minLength: size,
            maxLength: size,
          },
        )
        .map(
          (values): Condition => ({
            id: `w${join}${c.name}${operator}`,
            left: field(c.name, join),
            operator,
            values: takesPeriod(operator) ? values : inOrder(values, c.type),
          }),
        );
    }),
  );
}

/** Up to three conditions, some of them in groups of which all, any or none must hold. */
function conditionsArbitrary(brought: Brought[]): fc.Arbitrary<ConditionTree[]> {
  const some = fc.uniqueArray(conditionArbitrary(brought), { maxLength: 4, selector: (c) => c.id });
  return fc
    .tuple(some, fc.constantFrom(...HOLDS_NAMES), fc.constantFrom(...HOLDS_NAMES), fc.constantFrom("flat", "flat", "group", "nested"))
    .map(([list, outer, inner, shape]): ConditionTree[] => {
      const [first, ...rest] = list;
      if (!first || rest.length === 0 || shape === "flat") return list.slice(0, 3);
      if (shape === "group") return [{ id: "g", holds: outer, of: list }];
      return [first, { id: "g", holds: outer, of: [...rest.slice(1), { id: "h", holds: inner, of: rest.slice(0, 1) }] }];
    });
}

/** A field as it is, by a part of its date or a band of its number; or a formula. */
function operandArbitrary(brought: Brought[], grouping: boolean): fc.Arbitrary<Operand> {
  const fields = columnsOf(brought);
  const plain = fc.constantFrom(...fields).map(({ join, c }) => field(c.name, join));
  const dated = fields.filter(({ c }) => isDated(c.type));
  const parted = fc.tuple(fc.constantFrom(...dated), fc.constantFrom(...GROUP_PARTS)).map(([{ join, c }, part]): Operand => ({ ...field(c.name, join), part }));
  const numbers = fields.filter(({ c }) => c.type.kind === "whole" || c.type.kind === "decimal");
  const banded = fc.constantFrom(...numbers).map(({ join, c }): Operand => ({ ...field(c.name, join), band: { width: "7" } }));
  const limited = fc.constantFrom(...numbers).map(({ join, c }): Operand => ({ ...field(c.name, join), limits: ["0", "7", "25"] }));
  const texts = fc.constantFrom(...fields.filter(({ c }) => c.type.kind === "text"));
  const initial = fc.tuple(texts, fc.constantFrom(1, 2)).map(([{ join, c }, letters]): Operand => ({ ...field(c.name, join), letters }));
  const related = fc.constantFrom<Operand>(
    relatedFigure("", { link: "stamp.crate_id", toward: "a" }, "total", "fee", derivedSchema),
    relatedFigure("", { link: "stamp.crate_id", toward: "a" }, "count", null, derivedSchema),
  );
  const formula = fc.constantFrom(...FORMULAS).map((text): Operand => ({ kind: "formula", text }));
  return fc.oneof(
    { weight: 4, arbitrary: plain },
    { weight: 2, arbitrary: formula },
    { weight: 1, arbitrary: related },
    { weight: grouping ? 3 : 1, arbitrary: fc.oneof(parted, banded, limited, initial) },
  );
}

/** A figure over a field that takes it; a total of what a link repeats may add every row. */
function figureArbitrary(brought: Brought[], id: string): fc.Arbitrary<QueryColumn> {
  return fc.tuple(fc.constantFrom(...columnsOf(brought)), fc.boolean()).chain(([{ join, c }, everyRow]) => {
    const takes = (Object.keys(AGGREGATES) as AggregateName[]).filter((f) => AGGREGATES[f].takes(c.type) && !(f === "list" && c.type.kind === "floating"));
    return fc.constantFrom(...takes, ...(isNumber(c.type) ? (["total", "total", "total"] as const) : [])).map(
      (figure): QueryColumn => ({
        id,
        value: field(c.name, join),
        figure,
        ...(AGGREGATES[figure].order ? { by: field("id"), direction: "down", separator: "; " } : {}),
        ...(AGGREGATES[figure].weighs ? { by: field("pieces") } : {}),
        ...(AGGREGATES[figure].percent ? { percent: 37.5 } : {}),
        ...(AGGREGATES[figure].counts && everyRow ? { count: 3 } : {}),
        ...(everyRow ? { everyRow } : {}),
      }),
    );
  });
}

/** Formulas over figures: of the rows, of another column, with conditions of their own. */
const OVER_FIGURES = [
  "SUM(price) / SUM(pieces)",
  "n * 2 + COUNT(mark)",
  "SUM(price) FILTER (WHERE sealed) / NULLIF(COUNT(*), 0)",
  "MAX(day) - MIN(day)",
  "AVG(price) - MEDIAN(price)",
  "CASE WHEN COUNT(DISTINCT mark) > 1 THEN TOTAL(pieces) END",
  "WEIGHTED_AVERAGE(price, pieces) * 1.5",
  "PERCENTILE(pieces, 12.5) + MIN(pieces)",
  "SHARE(sealed) * 100",
];

const onGroup = (id: string, column: string, operator: Condition["operator"], ...values: Value[]) => ({
  id,
  left: { kind: "column" as const, id: column },
  operator,
  values,
});

/** What groups can be asked for. */
const ON_GROUPS = [
  onGroup("ga", "n", "atLeast", { kind: "value", text: "2" }),
  onGroup("gb", "n", "less", { kind: "value", text: "7" }),
  onGroup("gc", "f0", "notEmpty"),
  onGroup("gd", "x", "notEmpty"),
];

/** What lines can be asked for when all their columns are there: of what is worked out from those beside, and of what is not. */
const ON_LINES = [
  onGroup("la", "b", "atLeast", { kind: "value", text: "0.5" }),
  onGroup("lb", "b", "less", { kind: "column", id: "n" }),
  onGroup("lc", "b", "notEmpty"),
  onGroup("ld", "n", "between", { kind: "value", text: "1" }, { kind: "value", text: "9" }),
  onGroup("le", "i", "notBetween", { kind: "value", text: "20" }, { kind: "value", text: "40" }),
];

type Beside = { kind: WindowName; of: string; rows: number; back: BackName; direction: "up" | "down"; per: number; by: number };

/** A column worked out from the rows beside it. */
const windowArbitrary: fc.Arbitrary<Beside> = fc.record({
  kind: fc.constantFrom(...WINDOW_NAMES),
  of: fc.constantFrom("n", "i", "f0"),
  rows: fc.integer({ min: 1, max: 4 }),
  back: fc.constantFrom(...BACK_NAMES),
  direction: fc.constantFrom("up", "down"),
  per: fc.nat(3),
  by: fc.nat(5),
});

/** The same as it fits the columns there are: of a count or a number, back by periods only where there are some. */
function windowColumn({ kind, of, rows, back, direction, per, by }: Beside, columns: QueryColumn[]): QueryColumn {
  const counts = columns.find((c) => c.id === of && (c.figure === "count" || c.figure === "countDifferent" || c.id === "i"));
  const id = counts?.id ?? columns.find((c) => c.id === "n" || c.id === "i")?.id ?? "";
  const dated =
    columns.some((c) => c.figure) &&
    columns.some((c) => !c.figure && c.value?.kind === "field" && c.value.part !== undefined && !["weekday", "day"].includes(c.value.part));
  const keys = columns.filter((c) => !c.figure && !(c.value?.kind === "field" && c.value.column === "ratio"));
  const named = (at: number) => keys[at]?.id;
  const [part, order] = [named(per), named(by)];
  return {
    id: "b",
    value: WINDOWS[kind].takes ? { kind: "column", id } : null,
    figure: "window",
    window: {
      kind,
      rows,
      back: dated ? back : "row",
      direction,
      ...(part ? { per: [part] } : {}),
      ...(order && !(dated && back !== "row") ? { by: order } : {}),
    },
  };
}

/** A key of which groups without rows can be shown: its values are told without it. Days and weeks of years would be many beside other keys. */
function isFillable({ value }: QueryColumn, brought: Brought[]): boolean {
  if (value?.kind !== "field") return false;
  const type = columnsOf(brought).find(({ join, c }) => join === value.join && c.name === value.column)?.c.type;
  return type !== undefined && (!isDated(type) || (value.part !== undefined && !["day", "isoWeek"].includes(value.part)));
}

/** What the footing of a column of rows can show; undefined leaves it to what the column is. */
const FOOTINGS = [undefined, undefined, "total", "average", "median", "countDifferent", "least", "variance", "none"] as const;

/** Whether all engines have a column's values in one order: floating figures of one size may stand either way, by how they were added. */
function orderly(column: QueryColumn): boolean {
  const { figure, value } = column;
  if (figure === "formula") return false;
  return !(figure && (/deviation|variance/.test(figure) || (value?.kind === "field" && value.column === "ratio")));
}

const JOINS: Record<string, Omit<LinkedJoin, "way">> = {
  s: { id: "s", from: "", link: "stamp.crate_id", toward: "a" },
  y: { id: "y", from: "", link: "crate.yard_id", toward: "b" },
  c: { id: "c", from: "y", link: "crate.yard_id", toward: "a" },
};
const TABLES: Record<string, string> = { s: "stamp", y: "yard", c: "crate", o: "yard" };

/** A yard, by comparisons of its own: some find one at most, some many, some pair by what is no key at all. */
const comparedArbitrary: fc.Arbitrary<ComparedJoin> = fc
  .record({
    on: fc.constantFrom<ConditionTree[]>(
      [onYard("o1", "id", "is", "yard_id")],
      [onYard("o1", "opened", "sameYear", "day"), onYard("o2", "id", "is", "yard_id")],
      [onYard("o1", "opened", "atMost", "day"), onYard("o2", "rent", "greater", "price")],
      [{ id: "o0", holds: "any", of: [onYard("o1", "name", "sameText", "mark"), onYard("o2", "id", "is", "pieces")] }],
      [onYard("o1", "name", "beginsWith", "mark"), onYard("o2", "open", "is", "sealed")],
    ),
    way: fc.constantFrom("keep", "only", "other", "has", "hasNone"),
  })
  .map(({ on, way }): ComparedJoin => ({ id: "o", from: "", table: "yard", on, way }));

function onYard(id: string, column: string, operator: Condition["operator"], near: string): Condition {
  return { id, left: field(column, "o"), operator, values: [field(near)] };
}

/** What a stamp must be like to be a match. */
const matchArbitrary = conditionArbitrary([{ join: "s", table: "stamp" }]).map((c): Condition => ({ ...c, id: "m" }));

const joinsArbitrary: fc.Arbitrary<Join[]> = fc
  .record({
    s: fc.constantFrom("keep", "only", "other", "both", "has", "hasNone", null, null),
    y: fc.constantFrom("keep", "keep", "only", "other", "both", "has", "hasNone", null),
    c: fc.constantFrom("keep", "hasNone", null, null, null),
    match: fc.option(matchArbitrary),
    own: fc.option(comparedArbitrary),
  })
  .map(({ match, own, ...ways }) => [
    ...(own ? [own] : []),
    ...(["s", "y", "c"] as const).flatMap((id): Join[] => {
      const way = ways[id];
      const asked = id === "s" && match && way !== null && !brings(way) ? { where: [match] } : {};
      return way === null || (id === "c" && (ways.y === null || !brings(ways.y))) ? [] : [{ ...JOINS[id], way, ...asked } as Join];
    }),
  ]);

/** Queries over the sample: tables brought, conditions on fields, values and parameters, grouped or not, formulas, parts, bands, figures, order and limit. */
export const specArbitrary: fc.Arbitrary<QuerySpec> = fc.tuple(joinsArbitrary, fc.boolean()).chain(([joins, grouped]) => {
  const brought: Brought[] = [{ join: "", table: "crate" }, ...joins.filter((j) => brings(j.way)).map((j) => ({ join: j.id, table: TABLES[j.id] ?? "" }))];
  const conditions = conditionsArbitrary(brought);
  const shown = fc.array(operandArbitrary(brought, grouped), { minLength: grouped ? 0 : 1, maxLength: 3 });
  const figures = fc.tuple(...["f0", "f1", "f2"].map((id) => figureArbitrary(brought, id)));
  const every = fc.array(fc.boolean(), { minLength: 3, maxLength: 3 });
  const order = fc.tuple(fc.boolean(), fc.constantFrom("up" as const, "down" as const), fc.nat());
  const counted = fc.array(fc.option(conditionArbitrary(brought)), { minLength: 3, maxLength: 3 });
  const again = fc.tuple(fc.option(windowArbitrary), fc.constantFrom(0, 0, 0, 1, 3), fc.subarray(ON_LINES, { maxLength: 2 }));
  const over = fc.tuple(fc.option(fc.constantFrom(...OVER_FIGURES)), fc.subarray(ON_GROUPS), fc.constantFrom(...FOOTINGS));
  return fc
    .tuple(conditions, shown, figures, every, order, fc.constantFrom(null, null, 1, 13), counted, over, again)
    .map(([where, operands, totals, everyRow, [ordered, direction, at], limit, asked, [formula, onGroups, footing], [window, firstOf, onLines]]) => {
      const own = operands.map((value, i): QueryColumn => {
        const key: QueryColumn = { id: `c${i}`, value, ...(everyRow[i] && !grouped ? { everyRow: true } : {}) };
        return grouped && everyRow[i] && at % 3 === i && isFillable(key, brought) ? { ...key, everyValue: true } : key;
      });
      // Subtotals need all groups, and are of keys that stand before others.
      const parted = limit === null && firstOf === 0 && at % 2 === 0;
      const keys = grouped && parted ? own.map((key, i): QueryColumn => (i < own.length - 1 && everyRow[i] ? { ...key, subtotal: true } : key)) : own;
      const limited = totals.map((c, i): QueryColumn => ({ ...c, ...(asked[i] ? { where: [{ ...asked[i], id: `a${i}` }] } : {}) }));
      const rate: QueryColumn[] = formula === null ? [] : [{ id: "x", value: { kind: "formula", text: formula }, figure: "formula" }];
      const keyed: QueryColumn[] = grouped
        ? [...keys, { id: "n", value: null, figure: "count", label: "n" }, ...limited, ...rate]
        : [{ id: "i", value: field("id"), ...(footing ? { footing } : {}) }, ...own];
      const beside = window && keyed.some((k) => k.id === window.of) ? [windowColumn(window, keyed)] : [];
      const all = [...keyed, ...beside];
      const isShown = (column: string) => all.some((c) => c.id === column);
      const lineConditions = onLines.filter((c) => isShown(c.left.id) && c.values.every((v) => v.kind !== "column" || isShown(v.id)));
      const groupConditions = grouped ? onGroups.filter((c) => keyed.some((k) => k.id === c.left.id)) : [];
      return {
        ...emptyQuery("crate"),
        joins,
        conditions: where,
        grouped,
        columns: all,
        ...(firstOf > 0 ? { firstOf: { rows: firstOf, per: keyed.slice(0, 1).map((c) => c.id) } } : {}),
        ...(groupConditions.length > 0 ? { groupConditions } : {}),
        ...(lineConditions.length > 0 ? { lineConditions } : {}),
        order: ordered ? [{ column: keyed.filter(orderly)[at % keyed.filter(orderly).length]?.id ?? "", direction }] : [],
        limit,
        parameters: PARAMETERS,
      };
    });
});
