import { type Expr, type FigureExpr, figureWhere, storedAsText, withFigures } from "../expression/expr";
import { functionSql, mayOutgrow, passesOn } from "../expression/functions";
import type { LinkComparison, Table } from "../schema/schema";
import { text, type ValueType, whole } from "../types/valueType";
import { asShown, type Own, orderTerms, rowsAgain, type Selected } from "./again";
import { AGGREGATES } from "./aggregates";
import type { JoinWay, StackName } from "./choices";
import { type Dialect, quoted } from "./dialect/dialect";
import { everyGroup } from "./everyGroup";
import { groupKeys } from "./groupKeys";
import { exprsOf, figureOfRollup, valueOfColumn } from "./home";
import { keepsFar, PRESENT } from "./joinWays";
import { columnsRead, neededJoins } from "./needed";
import { everyOf, type Plan, type PlanColumn, type PlanJoin, type PlanRollup, type PlanSource, type PlanStack } from "./plan";

/** A value to be bound, by the name it has in the text. Exact numbers are scaled digits. */
export type BoundValue = { name: string; value: string | null; type: ValueType; parameter?: string };
export type Sql = { text: string; values: BoundValue[] /** of a query of one row: what each of its values is */; types?: ValueType[] };

/** The SQL of a sheet's rows, and how to read what comes back: each column's type, and where its raw companion stands. */
export type RowsSql = Sql & { columns: { id: string; type: ValueType; raw: number | null }[] };

/*
 * The order of operations, for every query:
 *
 *   source (a table, a query, several put together) → joins → conditions → groups and figures → conditions on groups
 *     → what is worked out from the rows beside → conditions on lines → the first of each → order → limit → window
 *
 * rowsSql writes the whole pipeline; footing.ts adds up its result; proof.ts takes it apart.
 */

/** Ways that bring no columns are conditions, and have joins of their own that keep every row. */
const JOINED_BY: Record<JoinWay, string> = {
  keep: "LEFT JOIN",
  only: "JOIN",
  other: "RIGHT JOIN",
  both: "FULL JOIN",
  has: "LEFT JOIN",
  hasNone: "LEFT JOIN",
  every: "JOIN",
};

const STACKED_BY: Record<StackName, string> = { all: "UNION ALL", different: "UNION", both: "INTERSECT", first: "EXCEPT" };

/** What compares values and does nothing else with them. */
const COMPARED: ReadonlySet<string> = new Set(["is", "isNot", "less", "atMost", "greater", "atLeast", "between", "oneOf", "isNull", "isNotNull"]);

/** Writes SQL for one dialect and gathers the values to be bound. Nothing a person typed reaches the text. */
export class SqlWriter {
  readonly values: BoundValue[] = [];
  /** The table alias whose rows are known to be only those of IN_SIGHT; rollups from it count nothing else. */
  inSight: string | null = null;
  /** @param write how a value stands in the text; where it is not given, by a placeholder to be bound */
  constructor(
    readonly dialect: Dialect,
    private readonly write?: (value: string | null, type: ValueType) => string,
  ) {}

  expr(expr: Expr): string {
    switch (expr.node) {
      case "field": {
        const column = `${quoted(expr.alias)}.${quoted(expr.column)}`;
        return this.dialect[expr.guarded ? "readFitting" : "read"](column, expr.type, expr.storage);
      }
      case "found":
        return `(${quoted(expr.alias)}.${quoted(expr.column)} IS NOT NULL)`;
      case "literal":
        return this.bind(expr.value, expr.type, expr.parameter);
      case "period":
        return this.dialect.periodStart(this.expr(expr.of), expr.part, expr.of.type);
      case "call": {
        const sql = this.call(expr);
        const misread = storedAsText(expr);
        return misread ? `COALESCE(${sql}, ${this.dialect.stored(misread.alias, misread.column)})` : sql;
      }
      case "figure":
        return this.figure(expr);
      default:
        return expr satisfies never;
    }
  }

  private call(expr: Extract<Expr, { node: "call" }>): string {
    const write = (arg: Expr) => (passesOn(expr) ? this.expr(arg) : this.checked(arg));
    const args = expr.args.map((arg) => (COMPARED.has(expr.fn) && arg.node === "field" ? this.bare(arg) : write(arg)));
    return functionSql(expr.fn)(args, expr, this.dialect);
  }

  /** A field where it is only compared or ordered by. */
  bare(field: Extract<Expr, { node: "field" }>): string {
    const { bare } = this.dialect;
    return bare && !field.guarded ? bare(`${quoted(field.alias)}.${quoted(field.column)}`, field.type, field.storage) : this.expr(field);
  }

  /** An expression whose value is used for something else than more arithmetic: one that outgrew 64 bits is refused. */
  checked(expr: Expr): string {
    const sql = this.expr(expr);
    return this.dialect.checked && mayOutgrow(expr) ? this.dialect.checked(sql) : sql;
  }

  bind(value: string | null, type: ValueType, parameter?: string): string {
    const known = this.values.findIndex((v) => v.value === value && v.type.kind === type.kind && v.parameter === parameter);
    const position = known >= 0 ? known + 1 : this.values.length + 1;
    if (known < 0) this.values.push({ name: `p${position}`, value, type, ...(parameter === undefined ? {} : { parameter }) });
    return this.write ? this.write(value, type) : this.dialect.placeholder(position, type);
  }

  /** A column's result: its figure over the group, or its value. */
  column(column: PlanColumn): string {
    return this.expr(valueOfColumn(column));
  }

  /** A figure over a group's rows. */
  private figure(figure: FigureExpr): string {
    const { of, by, keys } = figure;
    if (of === null) return "COUNT(*)";
    const operand = figure.figure === "total" ? this.expr(of) : this.checked(of);
    return this.figureOver(
      figure,
      operand,
      by && this.checked(by),
      (keys ?? []).map((key) => this.expr(key)),
    );
  }

  /** The same, given how its value, its order or weight, and its keys are written. */
  figureOver(
    { figure, of, by, direction, separator, percent, count = 0, keys }: FigureExpr,
    operand: string,
    byOperand: string | null,
    told: string[],
  ): string {
    const { dialect } = this;
    const type = of?.type ?? whole;
    if (keys) return dialect.sumOnce(operand, told, type);
    const between = figure === "list" ? this.bind(separator, text) : "";
    return AGGREGATES[figure].sql(operand, {
      type,
      dialect,
      by: byOperand,
      byType: by?.type ?? whole,
      direction,
      separator: between,
      percent: Math.trunc(percent),
      count: Math.trunc(count),
    });
  }

  /** FROM and JOIN of the source and the joins given. */
  from(plan: Plan, joins: PlanJoin[], rows = this.source(plan)): string {
    // Rows in sight were found among those already.
    const groups = plan.ofGroups && this.inSight === null ? [this.ofGroups(plan.ofGroups)] : [];
    return [`FROM ${rows} AS ${quoted(plan.source.alias)}`, ...joins.map((join) => this.join(join)), ...groups].join("\n");
  }

  /** Keeps rows to those that fall into a group of a plan, by what its groups are made by. */
  private ofGroups(groups: Plan): string {
    const keys = groups.columns.filter((c) => !c.figure && c.expr);
    const select = keys.map((column, i) => ({ column, name: `k${i}` }));
    const on = groupKeys(groups).map((key, i) => `${quoted(GROUPS)}.${quoted(`k${i}`)} IS NOT DISTINCT FROM ${this.expr(key)}`);
    return `JOIN (\n${rowsSql(groups, this, [...select, oneRow(groups)])}\n) AS ${quoted(GROUPS)} ON ${on.join(" AND ") || "1 = 1"}`;
  }

  private source(plan: Plan): string {
    return this.inSight === null ? this.rowsOf(plan.source, () => columnsRead(plan)) : quoted(IN_SIGHT);
  }

  /** The rows of a table, of a query or of several put together, with those of their columns that are read. */
  private rowsOf({ table, query, stack }: Pick<PlanSource, "table" | "query" | "stack">, read: () => Set<string>): string {
    if (query) return `(\n${this.subquery(query, read())}\n)`;
    return stack ? `(\n${this.stack(stack, read())}\n)` : this.table(table);
  }

  /** What is written of other tables than those of the rows in sight, though names be the same. */
  private outOfSight<Written>(write: () => Written): Written {
    const outside = this.inSight;
    this.inSight = null;
    const written = write();
    this.inSight = outside;
    return written;
  }

  /** A table; where rules bind the person who asks, only its rows that all of them let through. */
  private table({ name, rules }: Table): string {
    const all = this.dialect.table(name);
    if (!rules) return all;
    const ruled = (rows: string, rule: Plan) =>
      `(\nSELECT ${quoted(rule.source.alias)}.*\n${this.from(rule, neededJoins(rule, []), rows)}${this.where(rule.conditions)}\n)`;
    return this.outOfSight(() => rules.reduce(ruled, all));
  }

  /** The rows of several plans put together. Which of them are the same hangs on all their columns; where all are kept, those that are read will do. */
  private stack({ how, parts }: PlanStack, read: Set<string>): string {
    const rows = parts.map((part) => `SELECT * FROM (\n${this.subquery(part, how === "all" ? read : new Set(part.columns.map((c) => c.id)))}\n) AS part`);
    return rows.join(`\n${STACKED_BY[how]}\n`);
  }

  /** The rows of another query, with those of its columns that are read, by their ids. */
  private subquery(query: Plan, read: Set<string>): string {
    const columns = query.columns.filter((c) => read.has(c.id));
    const select = columns.length === 0 ? [oneRow(query)] : columns.map((column) => ({ column, name: column.id }));
    return this.outOfSight(() => rowsSql(query, this, select));
  }

  private join(join: PlanJoin): string {
    const table = join.rollup ? `(\n${this.rollup(join, join.rollup)}\n)` : this.joined(join);
    const on = join.rollup?.pairs
      ? join.rollup.pairs.columns.map((c) => `${quoted(join.alias)}.${quoted(c)} IS NOT DISTINCT FROM ${quoted(join.from)}.${quoted(c)}`)
      : [...join.on.map((c) => this.compared(c, join.from, join.alias)), ...(join.when ?? []).map((expr) => this.expr(expr))];
    return `${JOINED_BY[join.way]} ${table} AS ${quoted(join.alias)} ON ${on.join(" AND ") || "1 = 1"}`;
  }

  /** The rows of a joined table; where no column of it is known to be filled, with a mark that a row is there. */
  private joined({ table, query, when }: PlanJoin): string {
    const rows = this.rowsOf({ table, ...(query ? { query } : {}) }, () => new Set(query?.columns.map((c) => c.id)));
    return when && table.key.length === 0 ? `(\nSELECT t.*, 1 AS ${quoted(PRESENT)} FROM ${rows} AS t\n)` : rows;
  }

  private compared({ near, operator, far }: LinkComparison, from: string, to: string): string {
    const sign = { is: "=", isNot: "<>", less: "<", atMost: "<=", greater: ">", atLeast: ">=" }[operator];
    return operator === "is"
      ? `${quoted(to)}.${quoted(far)} = ${quoted(from)}.${quoted(near)}`
      : `${quoted(from)}.${quoted(near)} ${sign} ${quoted(to)}.${quoted(far)}`;
  }

  /** A condition that all figures of a rollup share stands in WHERE; any other is in its figure. */
  private rollup(join: PlanJoin, { alias, joins, figures, pairs }: PlanRollup): string {
    const [first] = figures;
    const shared = figures.every((f) => JSON.stringify(f.where) === JSON.stringify(first?.where)) ? (first?.where ?? []) : [];
    const select = figures.map((f) => {
      const own = shared.length > 0 ? [] : f.where;
      return `${this.expr(withFigures(figureOfRollup(f), (figure) => figureWhere(figure, own)))} AS ${quoted(f.name)}`;
    });
    const keys = pairs ? pairs.columns.map((c) => `${quoted(pairs.alias)}.${quoted(c)}`) : join.on.map((c) => `${quoted(alias)}.${quoted(c.far)}`);
    const rows = this.rowsOf({ table: join.table, ...(join.query ? { query: join.query } : {}) }, () => new Set(join.query?.columns.map((c) => c.id)));
    const paired = (p: NonNullable<PlanRollup["pairs"]>) =>
      `FROM (SELECT DISTINCT ${p.columns.map(quoted).join(", ")} FROM ${this.rowsOf(p, () => new Set(p.columns))} AS t) AS ${quoted(p.alias)}
JOIN ${rows} AS ${quoted(alias)} ON ${[...join.on.map((c) => this.compared(c, p.alias, alias)), ...(p.when ?? []).map((expr) => this.expr(expr))].join(" AND ")}`;
    const near = join.on[0];
    const sought =
      this.inSight === join.from && !pairs && near ? [`${quoted(alias)}.${quoted(near.far)} IN (SELECT ${quoted(near.near)} FROM ${quoted(IN_SIGHT)})`] : [];
    const where = [...shared.map((expr) => this.expr(expr)), ...sought];
    const from = pairs ? paired(pairs) : `FROM ${rows} AS ${quoted(alias)}`;
    return [
      `SELECT ${[...new Set(keys)].concat(select).join(", ")}`,
      [from, ...this.within(joins)].join("\n"),
      where.length > 0 ? `WHERE ${where.join("\n  AND ")}` : "",
      `GROUP BY ${[...new Set(keys)].join(", ")}`,
    ]
      .filter(Boolean)
      .join("\n");
  }

  /** Joins within a rollup, whose tables are its own though their names may be those outside. */
  private within(joins: PlanJoin[]): string[] {
    return this.outOfSight(() => joins.map((j) => this.join(j)));
  }

  where(conditions: { expr: Expr }[]): string {
    return conditions.length === 0 ? "" : `\nWHERE ${conditions.map((c) => this.expr(c.expr)).join("\n  AND ")}`;
  }

  sql(text: string): Sql {
    return { text, values: this.values };
  }
}

/** The name, in SQL, of the groups that rows must be of. */
const GROUPS = "groups shown";

/** The name, in SQL, of the source's rows that a window shows. */
const IN_SIGHT = "rows in sight";

/** The expressions that say in which order rows stand. */
const orderExprs = (plan: Plan): (Expr | null)[] => [...plan.order.map((o) => plan.columns.find((c) => c.id === o.column)?.expr ?? null), ...plan.tieBreak];

/**
 * Whether the rows of a window are found before what is brought to them: then no table is looked into for rows that are
 * passed over, and rollups count only what is in sight. Each row of the source has to stand once. It is worth it where
 * some table is brought that decides neither which rows there are nor their order, or where numbers can be sorted for rows.
 */
function findsRowsFirst(plan: Plan): boolean {
  // Rows of a query, or of several put together, are found by walking through all of it.
  if (plan.source.query || plan.source.stack) return false;
  if (plan.grouped || looksAgain(plan) || plan.joins.some((j) => j.leadsTo === "many" || keepsFar(j.way))) return false;
  const first = neededJoins(plan, orderExprs(plan));
  return plan.joins.some((j) => !first.includes(j)) || (plan.order.length > 0 && numberedKey(plan.source) !== null);
}

/** The rows of a sheet: all of them, or the window that starts after `offset` rows. */
export function compileRows(plan: Plan, dialect: Dialect, window?: { offset: number; rows: number }): RowsSql {
  const writer = new SqlWriter(dialect);
  const found = window && findsRowsFirst(plan) ? rowsInSight(plan, writer, window) : null;
  const raws = plan.columns.flatMap((c, i) => (c.expr?.node === "field" && c.expr.guarded && !plan.grouped ? [{ i, expr: c.expr }] : []));
  const select: Selected[] = [
    ...plan.columns.map((column, i) => ({ column, name: `c${i}` })),
    ...raws.map(({ expr, i }) => ({
      sql: `CASE WHEN ${writer.expr(expr)} IS NULL THEN ${dialect.stored(expr.alias, expr.column)} END`,
      name: `raw${i}`,
    })),
  ];
  const text = [found ?? "", rowsSql(plan, writer, select, { ordered: true, window: found ? "seen to" : window })].filter(Boolean).join("\n");
  const columns = plan.columns.map((c, i) => {
    const raw = raws.findIndex((r) => r.i === i);
    return { id: c.id, type: c.type, raw: raw < 0 ? null : plan.columns.length + raw };
  });
  return { ...writer.sql(text), columns };
}

/**
 * The number by which each row of a source's table is known, which is never empty: sorting numbers alone is a quarter of
 * the work of sorting whole rows.
 */
function numberedKey({ table }: Plan["source"]): string | null {
  const [key, ...more] = table.key;
  const numbered = table.columns.some((c) => c.name === key && c.filled === "number");
  return key !== undefined && more.length === 0 && numbered && !table.rules ? key : null;
}

/** The source's rows in a window, by the query's own conditions and order; what follows reads them in place of the source. */
function rowsInSight(plan: Plan, writer: SqlWriter, window: { offset: number; rows: number }): string {
  const { alias } = plan.source;
  const key = numberedKey(plan.source);
  const body = writer.from(plan, neededJoins(plan, orderExprs(plan))) + writer.where(plan.conditions);
  const found = [`SELECT ${quoted(alias)}.${key === null ? "*" : quoted(key)}`, body, orderSql(plan, writer), limitSql(plan.limit, window)];
  const inner = found.filter(Boolean).join("\n");
  const rows = key === null ? inner : `SELECT ${quoted(alias)}.*\n${writer.from(plan, [])}\nWHERE ${quoted(alias)}.${quoted(key)} IN (\n${inner}\n)`;
  writer.inSight = alias;
  return `WITH ${quoted(IN_SIGHT)} AS MATERIALIZED (\n${rows}\n)`;
}

/** FROM, WHERE and GROUP BY. @param unordered no order is written, so what only an order reads need not be joined @param all groups without their conditions */
function bodySql(plan: Plan, writer: SqlWriter, exprs: (Expr | null)[], { unordered = false, all = false } = {}): string {
  const keys = plan.columns.filter((c) => !c.figure && c.expr);
  const order = plan.grouped || unordered ? [] : plan.tieBreak;
  const grouping = plan.grouped ? keys.map((c) => c.expr) : [];
  const body = writer.from(plan, neededJoins(plan, [...exprs, ...grouping, ...order])) + writer.where(plan.conditions);
  if (!plan.grouped) return body;
  const by = keys.length === 0 ? "" : `\nGROUP BY ${keys.map((c) => writer.expr(c.expr as Expr)).join(", ")}`;
  const having = (all ? [] : plan.groupConditions).map((c) => writer.expr(c.expr)).join("\n  AND ");
  return `${body}${by}${having ? `\nHAVING ${having}` : ""}`;
}

type Cut = { ordered?: boolean; window?: { offset: number; rows: number } | undefined | "seen to" };

/** Whether a plan's rows are looked at once more when they are there: by what is worked out from the rows beside, conditions on lines, the first of each, or groups that have none. */
export const looksAgain = (plan: Plan): boolean =>
  plan.firstOf !== null || (plan.lineConditions ?? []).length > 0 || everyOf(plan).length > 0 || plan.columns.some((c) => c.window);

/**
 * The rows of a plan, as many as it shows, with what is selected of them. Where nothing is cut and no order is asked for
 * none is written.
 */
export function rowsSql(plan: Plan, writer: SqlWriter, select: Selected[], { ordered = false, window }: Cut = {}): string {
  const limit = window === "seen to" ? "" : limitSql(plan.limit, window);
  const inOrder = ordered || limit !== "";
  if (looksAgain(plan)) return rowsAgain(plan, writer, select, (own) => rowsToSeeAgain(plan, writer, own), inOrder, limit);
  const listed = select.map((s) => `${"sql" in s ? s.sql : asShown(s, selectedSql(s.column, writer, ordered))} AS ${quoted(s.name)}`);
  const exprs = inOrder ? plan.columns.flatMap(exprsOf) : select.flatMap((s) => ("sql" in s ? plan.columns.flatMap(exprsOf) : exprsOf(s.column)));
  const order = inOrder ? orderSql(plan, writer) : "";
  return [`SELECT ${listed.join(",\n  ")}`, bodySql(plan, writer, exprs, { unordered: !inOrder }), order, limit].filter(Boolean).join("\n");
}

/** Rows with all that is asked of them, before their order; groups that no row makes among them, where a plan shows those. */
function rowsToSeeAgain(plan: Plan, writer: SqlWriter, own: Own[]): string {
  const read = [...plan.columns.flatMap(exprsOf), ...plan.tieBreak];
  const columnsOf = (rows: Plan, ids: string[]) =>
    rowsSql(
      rows,
      writer,
      ids.flatMap((id) => rows.columns.filter((c) => c.id === id)).map((column) => ({ column, name: column.id })),
    );
  if (everyOf(plan).length > 0) return everyGroup(plan, writer, own, bodySql(plan, writer, read, { all: true }), columnsOf);
  return `SELECT ${own.map((s) => `${s.sql} AS ${quoted(s.name)}`).join(",\n  ")}\n${bodySql(plan, writer, read)}`;
}

/** A column as it is shown; where more is made of it, what outgrew 64 bits is refused. */
const selectedSql = (column: PlanColumn, writer: SqlWriter, shown: boolean): string => (shown ? writer.column(column) : writer.checked(valueOfColumn(column)));

function orderSql(plan: Plan, writer: SqlWriter): string {
  /** Rows are ordered by what an index has of a field; groups by what they are made by. */
  const sqlOf = (expr: Expr) => (!plan.grouped && expr.node === "field" ? writer.bare(expr) : writer.expr(expr));
  const isFilled = (expr: Expr) => !plan.grouped && isNeverEmpty(plan, expr);
  const terms = orderTerms(
    plan,
    writer,
    (c) => sqlOf(valueOfColumn(c)),
    plan.tieBreak.map((tie) => ({ sql: sqlOf(tie), filled: isFilled(tie) })),
    (c) => isFilled(valueOfColumn(c)),
  );
  return terms.length === 0 ? "" : `ORDER BY ${terms.join(", ")}`;
}

/** Whether a value is that of a column of the source which requires one, and no row stands without a row of the source. */
function isNeverEmpty({ source, joins }: Plan, expr: Expr): boolean {
  if (expr.node !== "field" || expr.alias !== source.alias || expr.guarded || source.query || source.stack || joins.some((j) => keepsFar(j.way))) return false;
  return source.table.columns.some((c) => c.name === expr.column && !c.nullable);
}

function limitSql(limit: number | null, window?: { offset: number; rows: number }): string {
  if (!window) return limit === null ? "" : `LIMIT ${Math.trunc(limit)}`;
  const rows = limit === null ? window.rows : Math.max(0, Math.min(window.rows, limit - window.offset));
  return `LIMIT ${Math.trunc(rows)} OFFSET ${Math.trunc(window.offset)}`;
}

/** Stands in a SELECT that needs no column: one for each row, or for each group, also where all rows are one group. */
export const oneRow = (plan: Plan): Selected => ({ sql: plan.grouped ? "COUNT(*)" : "1", name: "one" });
