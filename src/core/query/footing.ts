import type { Expr, FieldExpr } from "../expression/expr";
import { type ValueType, whole } from "../types/valueType";
import type { Selected } from "./again";
import { oneRow, rowsSql, type Sql, SqlWriter } from "./compile";
import { type Dialect, quoted } from "./dialect/dialect";
import { partsNeeded } from "./emptied";
import { countsOnce, overlaps } from "./home";
import { neededJoins } from "./needed";
import { isCut, type Plan, type PlanColumn, rowsOfGroups } from "./plan";

/**
 * What compileFooting returns after the count of rows: what each column comes to, the counts of values that do not fit, of rows for
 * which a formula is empty though a part of it has a value, and for each repeated column four figures: each of its home's rows once,
 * every row of the sheet, how many rows its home has here, and its groups' totals added up.
 */
export type FootingSql = Sql & { totals: { column: string; type: ValueType }[]; misfits: string[]; emptied: string[]; repeats: string[] };

/** The columns of a footing whose values the sheet's rows repeat. */
const repeatedColumns = (plan: Plan): PlanColumn[] => plan.columns.filter((c) => c.totalled && c.home?.repeated && (!c.figure || c.figure === "total"));

/** The footing over all rows of a query, not only those shown: how many, what is added up or worked out anew, and how many values do not fit. */
export function compileFooting(plan: Plan, dialect: Dialect): FootingSql {
  const footed = plan.columns.filter((c) => c.totalled || c.foot);
  const repeated = repeatedColumns(plan);
  const eachRow = plan.grouped || isCut(plan) ? [] : plan.columns;
  const guarded = eachRow.filter((c) => c.expr?.node === "field" && c.expr.guarded && (footed.includes(c) || !isSampledField(plan, c.expr)));
  const emptied = eachRow.filter((c) => partsNeeded(c).length > 0);
  const writer = new SqlWriter(dialect);
  const text = plan.grouped
    ? groupedFooting(plan, footed, repeated, writer)
    : isCut(plan)
      ? limitedFooting(plan, footed, repeated, writer)
      : wholeFooting(plan, { footed, repeated, guarded, emptied }, writer);
  const types = footed.map((c) => c.foot?.type ?? c.type);
  return {
    ...writer.sql(text),
    types: [whole, ...types, ...[...guarded, ...emptied].map(() => whole), ...repeated.flatMap((c) => [c.type, c.type, whole, c.type])],
    totals: footed.map((c, i) => ({ column: c.id, type: types[i] as ValueType })),
    misfits: guarded.map((c) => c.id),
    emptied: emptied.map((c) => c.id),
    repeats: repeated.map((c) => c.id),
  };
}

/** Whether a field is of a sampled column: what of it does not fit is told when all values have been looked at, and is counted before only for a total. */
const isSampledField = ({ source, joins }: Plan, { alias, column }: FieldExpr): boolean =>
  [source, ...joins].some((of) => of.alias === alias && of.table.columns.some((c) => c.name === column && c.sampled));

/** A column's total over rows that are not grouped, given how its value and its keys are written. */
function totalSql(column: PlanColumn, operand: string, keys: string[], { dialect }: SqlWriter): string {
  return countsOnce(column) ? dialect.sumOnce(operand, keys, column.type) : `SUM(${operand})`;
}

/** The figures that tell of a repeated column over rows that are not grouped. */
function repeatSql({ home, type }: PlanColumn, operand: string, keys: string[], { dialect }: SqlWriter): string[] {
  const told = home?.keys !== null;
  return [told ? dialect.sumOnce(operand, keys, type) : "NULL", `SUM(${operand})`, told ? dialect.countOnce(keys) : "NULL"];
}

/** The expressions a footing reads of a column. */
const readBy = (c: PlanColumn): (Expr | null)[] => [c.foot ?? c.expr, ...(c.home?.repeated ? (c.home.keys ?? []) : [])];

type Footed = Record<"footed" | "repeated" | "guarded" | "emptied", PlanColumn[]>;

function wholeFooting(plan: Plan, { footed, repeated, guarded, emptied }: Footed, writer: SqlWriter): string {
  const operand = (c: PlanColumn) => writer.expr(c.expr as Expr);
  const keys = (c: PlanColumn) => (c.home?.keys ?? []).map((key) => writer.expr(key));
  const misfit = ({ expr }: PlanColumn) =>
    expr?.node === "field" ? `COUNT(CASE WHEN ${writer.expr(expr)} IS NULL THEN ${writer.dialect.stored(expr.alias, expr.column)} END)` : "0";
  const isEmptied = (c: PlanColumn) => {
    const filled = partsNeeded(c).map((part) => `${writer.expr(part)} IS NOT NULL`);
    return `COUNT(CASE WHEN ${operand(c)} IS NULL AND (${filled.join(" OR ")}) THEN 1 END)`;
  };
  const select = [
    "COUNT(*)",
    ...footed.map((c) => (c.foot ? writer.expr(c.foot) : totalSql(c, operand(c), keys(c), writer))),
    ...guarded.map(misfit),
    ...emptied.map(isEmptied),
    ...repeated.flatMap((c) => [...repeatSql(c, operand(c), keys(c), writer), "NULL"]),
  ];
  const joins = neededJoins(plan, [...[...footed, ...repeated].flatMap(readBy), ...[...guarded, ...emptied].map((c) => c.expr)]);
  return `SELECT ${select.join(",\n  ")}\n${writer.from(plan, joins)}${writer.where(plan.conditions)}`;
}

/** Of the first rows only: they are found first, then added up. */
function limitedFooting(plan: Plan, footed: PlanColumn[], repeated: PlanColumn[], writer: SqlWriter): string {
  const keysOf = (c: PlanColumn) => (c.home?.repeated ? (c.home.keys ?? []) : []);
  const values = footed.map((c, i): Selected => ({ sql: writer.expr(c.expr as Expr), name: `c${i}` }));
  const keys = footed.flatMap((c, i) => keysOf(c).map((key, k): Selected => ({ sql: writer.expr(key), name: `k${i}_${k}` })));
  const rows = rowsSql(plan, writer, [...values, ...keys, oneRow(plan)]);
  const value = (c: PlanColumn) => quoted(`c${footed.indexOf(c)}`);
  const told = (c: PlanColumn) => keysOf(c).map((_, k) => quoted(`k${footed.indexOf(c)}_${k}`));
  const anew = (c: PlanColumn) => (c.foot?.node === "figure" ? writer.figureOver(c.foot, value(c), null, []) : "NULL");
  const select = [
    "COUNT(*)",
    ...footed.map((c) => (c.foot ? anew(c) : totalSql(c, value(c), told(c), writer))),
    ...repeated.flatMap((c) => [...repeatSql(c, value(c), told(c), writer), "NULL"]),
  ];
  return `SELECT ${select.join(", ")} FROM (\n${rows}\n) AS r`;
}

/**
 * The groups shown are added up; what does not add up (an average, a ratio, a total whose rows fall into several groups)
 * is taken over the rows of those groups instead.
 */
function groupedFooting(plan: Plan, footed: PlanColumn[], repeated: PlanColumn[], writer: SqlWriter): string {
  const groups = plan.columns.filter((c) => !c.figure);
  const added = footed.filter((c) => !c.foot);
  const rows = rowsSql(plan, writer, [...added.map((column, i): Selected => ({ column, name: `c${i}` })), oneRow(plan)]);
  const sums = ["COUNT(*) AS n", ...added.map((_, i) => `SUM(${quoted(`c${i}`)}) AS ${quoted(`s${i}`)}`)];
  const summed = `SELECT ${sums.join(", ")} FROM (\n${rows}\n) AS r`;
  const anew = footed.filter((c) => c.foot);
  if (repeated.length + anew.length === 0) return summed;
  const whole = rowsOfGroups(plan);
  const keys = (c: PlanColumn) => (c.home?.keys ?? []).map((key) => writer.expr(key));
  const over = [
    ...repeated.flatMap((c, i) => repeatSql(c, writer.expr(c.expr as Expr), keys(c), writer).map((sql, k) => `${sql} AS ${quoted(`w${i}_${k}`)}`)),
    ...anew.map((c, i) => `${writer.expr(c.foot as Expr)} AS ${quoted(`a${i}`)}`),
  ];
  const joins = neededJoins(whole, [...repeated, ...anew].flatMap(readBy));
  const all = `SELECT ${over.join(", ")}\n${writer.from(whole, joins)}${writer.where(whole.conditions)}`;
  const total = (c: PlanColumn) => {
    if (c.foot) return `w.${quoted(`a${anew.indexOf(c)}`)}`;
    return overlaps(c, groups) ? `w.${quoted(`w${repeated.indexOf(c)}_0`)}` : `g.${quoted(`s${added.indexOf(c)}`)}`;
  };
  const told = repeated.flatMap((c, i) => [0, 1, 2].map((k) => `w.${quoted(`w${i}_${k}`)}`).concat(`g.${quoted(`s${added.indexOf(c)}`)}`));
  return `SELECT ${["g.n", ...footed.map(total), ...told].join(", ")}\nFROM (${summed}) AS g\nCROSS JOIN (${all}) AS w`;
}
