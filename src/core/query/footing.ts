import type { Expr } from "../expression/expr";
import { type ValueType, whole } from "../types/valueType";
import { bodySql, limitSql, neededJoins, oneRow, orderSql, type Sql, SqlWriter } from "./compile";
import { type Dialect, quoted } from "./dialect/dialect";
import { countsOnce, exprsOf, overlaps } from "./home";
import type { Plan, PlanColumn } from "./plan";

/**
 * What compileFooting returns after the count of rows: the totals, the counts of values that do not fit, and for each
 * repeated column four figures: each of its home's rows once, every row of the sheet, how many rows its home has here,
 * and its groups' totals added up.
 */
export type FootingSql = Sql & { totals: { column: string; type: ValueType }[]; misfits: string[]; repeats: string[] };

/** The columns of a footing whose values the sheet's rows repeat. */
const repeatedColumns = (plan: Plan): PlanColumn[] => plan.columns.filter((c) => c.totalled && c.home?.repeated && (!c.figure || c.figure === "total"));

/** The footing over all rows of a query, not only those shown: how many, the totals, and how many values do not fit. */
export function compileFooting(plan: Plan, dialect: Dialect): FootingSql {
  const totalled = plan.columns.filter((c) => c.totalled);
  const repeated = repeatedColumns(plan);
  const guarded = plan.grouped || plan.limit !== null ? [] : plan.columns.filter((c) => c.expr?.node === "field" && c.expr.guarded);
  const writer = new SqlWriter(dialect);
  const text = plan.grouped
    ? groupedFooting(plan, totalled, repeated, writer)
    : plan.limit !== null
      ? limitedFooting(plan, totalled, repeated, writer)
      : wholeFooting(plan, totalled, repeated, guarded, writer);
  return {
    ...writer.sql(text),
    types: [whole, ...totalled.map((c) => c.type), ...guarded.map(() => whole), ...repeated.flatMap((c) => [c.type, c.type, whole, c.type])],
    totals: totalled.map((c) => ({ column: c.id, type: c.type })),
    misfits: guarded.map((c) => c.id),
    repeats: repeated.map((c) => c.id),
  };
}

/** A column's total over rows that are not grouped, given how its value and its keys are written. */
function totalSql(column: PlanColumn, operand: string, keys: string[], { dialect }: SqlWriter): string {
  return countsOnce(column) ? dialect.sumOnce(operand, keys, column.type) : `SUM(${operand})`;
}

/** The figures that tell of a repeated column over rows that are not grouped. */
function repeatSql({ home, type }: PlanColumn, operand: string, keys: string[], { dialect }: SqlWriter): string[] {
  const told = home?.keys !== null;
  return [told ? dialect.sumOnce(operand, keys, type) : "NULL", `SUM(${operand})`, told ? dialect.countOnce(keys) : "NULL"];
}

function wholeFooting(plan: Plan, totalled: PlanColumn[], repeated: PlanColumn[], guarded: PlanColumn[], writer: SqlWriter): string {
  const operand = (c: PlanColumn) => writer.expr(c.expr as Expr);
  const keys = (c: PlanColumn) => (c.home?.keys ?? []).map((key) => writer.expr(key));
  const misfit = ({ expr }: PlanColumn) =>
    expr?.node === "field" ? `COUNT(CASE WHEN ${writer.expr(expr)} IS NULL THEN ${quoted(expr.alias)}.${quoted(expr.column)} END)` : "0";
  const select = [
    "COUNT(*)",
    ...totalled.map((c) => totalSql(c, operand(c), keys(c), writer)),
    ...guarded.map(misfit),
    ...repeated.flatMap((c) => [...repeatSql(c, operand(c), keys(c), writer), "NULL"]),
  ];
  const read = [...totalled, ...repeated].flatMap((c) => [c.expr, ...(c.home?.repeated ? (c.home.keys ?? []) : [])]);
  const joins = neededJoins(plan, [...read, ...guarded.map((g) => g.expr)]);
  return `SELECT ${select.join(",\n  ")}\n${writer.from(plan, joins)}${writer.where(plan.conditions)}`;
}

/** Of the first rows only: they are found first, then added up. */
function limitedFooting(plan: Plan, totalled: PlanColumn[], repeated: PlanColumn[], writer: SqlWriter): string {
  const values = totalled.map((c, i) => `${writer.expr(c.expr as Expr)} AS ${quoted(`c${i}`)}`);
  const keysOf = (c: PlanColumn) => (c.home?.repeated ? (c.home.keys ?? []) : []);
  const keys = totalled.flatMap((c, i) => keysOf(c).map((key, k) => `${writer.expr(key)} AS ${quoted(`k${i}_${k}`)}`));
  const exprs = plan.columns.flatMap((c) => [...exprsOf(c), ...keysOf(c)]);
  const rows = [`SELECT ${[...values, ...keys, "1 AS one"].join(", ")}`, bodySql(plan, writer, exprs), orderSql(plan, writer), limitSql(plan.limit)];
  const value = (c: PlanColumn) => quoted(`c${totalled.indexOf(c)}`);
  const told = (c: PlanColumn) => keysOf(c).map((_, k) => quoted(`k${totalled.indexOf(c)}_${k}`));
  const select = [
    "COUNT(*)",
    ...totalled.map((c) => totalSql(c, value(c), told(c), writer)),
    ...repeated.flatMap((c) => [...repeatSql(c, value(c), told(c), writer), "NULL"]),
  ];
  return `SELECT ${select.join(", ")} FROM (\n${rows.filter(Boolean).join("\n")}\n) AS r`;
}

/** The groups are added up; a total whose rows fall into several groups is taken over all rows instead, and over none where only the first groups are shown. */
function groupedFooting(plan: Plan, totalled: PlanColumn[], repeated: PlanColumn[], writer: SqlWriter): string {
  const groups = plan.columns.filter((c) => !c.figure);
  const values = totalled.map((c, i) => `${writer.column(c)} AS ${quoted(`c${i}`)}`);
  const rows = [
    `SELECT ${[...values, oneRow(plan)].join(", ")}`,
    bodySql(plan, writer, plan.columns.flatMap(exprsOf)),
    plan.limit === null ? "" : orderSql(plan, writer),
    limitSql(plan.limit),
  ];
  const added = ["COUNT(*) AS n", ...totalled.map((_, i) => `SUM(${quoted(`c${i}`)}) AS ${quoted(`s${i}`)}`)];
  const summed = `SELECT ${added.join(", ")} FROM (\n${rows.filter(Boolean).join("\n")}\n) AS r`;
  if (repeated.length === 0) return summed;
  const whole: Plan = { ...plan, grouped: false, limit: null };
  const keys = (c: PlanColumn) => (c.home?.keys ?? []).map((key) => writer.expr(key));
  const over = repeated.flatMap((c, i) => repeatSql(c, writer.expr(c.expr as Expr), keys(c), writer).map((sql, k) => `${sql} AS ${quoted(`w${i}_${k}`)}`));
  const read = repeated.flatMap((c) => [c.expr, ...(c.home?.keys ?? [])]);
  const all = `SELECT ${over.join(", ")}\n${writer.from(whole, neededJoins(whole, read))}${writer.where(whole.conditions)}`;
  const total = (c: PlanColumn, i: number) =>
    !overlaps(c, groups) ? `g.${quoted(`s${i}`)}` : plan.limit === null ? `w.${quoted(`w${repeated.indexOf(c)}_0`)}` : "NULL";
  const told = repeated.flatMap((c, i) => [0, 1, 2].map((k) => `w.${quoted(`w${i}_${k}`)}`).concat(`g.${quoted(`s${totalled.indexOf(c)}`)}`));
  return `SELECT ${["g.n", ...totalled.map(total), ...told].join(", ")}\nFROM (${summed}) AS g\nCROSS JOIN (${all}) AS w`;
}
