import { type Expr, withFields } from "../expression/expr";
import type { DatePart, ExtractPart } from "../types/date";
import { type ValueType, whole } from "../types/valueType";
import { type Dialect, quoted } from "./dialect/dialect";
import { valueOfColumn } from "./home";
import type { Plan, PlanColumn, PlanWindow } from "./plan";
import { windowSql } from "./windows";

/*
 * Rows that are looked at once more when they are there: for columns worked out from the rows beside, for conditions on
 * lines, and for the first of each. Their SQL stands around that of the rows themselves.
 */

/** What writes expressions for a dialect. */
type Writes = { dialect: Dialect; expr: (expr: Expr) => string; checked: (expr: Expr) => string; bind: (value: string | null, type: ValueType) => string };

/** What is selected of each row before it is looked at again; `of` is what tells it apart. */
export type Own = { sql: string; name: string; of?: Expr };

/** What is selected of a plan's rows, by name: a column, or SQL over the tables they come from. */
export type Selected =
  | { name: string; column: PlanColumn /** How its SQL is written where a person reads it. */; shown?: (sql: string) => string }
  | { name: string; sql: string };

/** A column's SQL as it is selected. */
export const asShown = (selected: Extract<Selected, { column: PlanColumn }>, sql: string): string => selected.shown?.(sql) ?? sql;

/**
 * The rows of a plan that are looked at again:
 *
 *   rows, with all columns and what tells rows apart → what is worked out from the rows beside → conditions on lines → the first of each → order, limit
 *
 * @param rowsSql the rows, of what is selected of each by name
 */
export function rowsAgain(plan: Plan, writer: Writes, select: Selected[], rowsSql: (own: Own[]) => string, inOrder: boolean, limit: string): string {
  const columnAt = (id: string | null) => plan.columns.findIndex((c) => c.id === id);
  const bare = (at: number) => quoted(`c${at}`);
  const tie = (at: number) => quoted(`t${at}`);
  const own = plan.columns.flatMap((c, i): Own[] => (c.window ? [] : [{ sql: writer.checked(valueOfColumn(c)), name: `c${i}` }]));
  const ties = plan.tieBreak.map((expr, i): Own => ({ sql: writer.expr(expr), name: `t${i}`, of: expr }));
  const extra = select.flatMap((s): Own[] => ("sql" in s ? [{ sql: s.sql, name: `x ${s.name}` }] : []));
  const rows = rowsSql([...own, ...ties, ...extra]);
  /** The rows as they stand under a name: no name that is selected hides theirs. */
  const under = (alias: string): Again => {
    const name = (at: number) => `${alias}.${bare(at)}`;
    const ties = plan.tieBreak.map((_, i) => ({ sql: `${alias}.${tie(i)}`, filled: false }));
    const ordered = (order: Plan["order"]): string => {
      const terms = orderTerms({ ...plan, order }, writer, (c) => name(columnAt(c.id)), ties);
      return terms.length === 0 ? "" : `ORDER BY ${terms.join(", ")}`;
    };
    const parted = (per: string[]): string => (per.length === 0 ? "" : `PARTITION BY ${per.map((id) => name(columnAt(id))).join(", ")}`);
    return { writer, name, columnAt, ordered, parted };
  };
  const [first, beside, shown] = [plan.firstOf, under("r"), under("w")];
  const windows = plan.columns.flatMap((c, i) => (c.window ? [`${windowOf(plan, c.window, beside)} AS ${bare(i)}`] : []));
  const byRows = plan.order.filter((o) => !plan.columns[columnAt(o.column)]?.window);
  /** The number of each row among those of its value, counted over the rows as they stand under a name. */
  const place = ({ parted, ordered }: Again) =>
    first ? [`ROW_NUMBER() OVER (${[parted(first.per), ordered(byRows)].filter(Boolean).join(" ")}) AS place`] : [];
  const asked = (plan.lineConditions ?? []).map((c) => writer.expr(withFields(c.expr, (f) => ({ ...f, alias: "w", column: `c${columnAt(f.column)}` }))));
  const met = asked.length === 0 ? "" : `WHERE ${asked.join("\n  AND ")}`;
  // The first are those of the rows that meet the conditions: then they are counted behind these.
  const twice = first !== null && met !== "";
  const again = `SELECT ${["r.*", ...windows, ...(twice ? [] : place(beside))].join(",\n  ")}\nFROM (\n${rows}\n) AS r`;
  const lines = twice ? `SELECT ${["w.*", ...place(shown)].join(",\n  ")}\nFROM (\n${again}\n) AS w\n${met}` : again;
  const listed = select.map((s) => `${"sql" in s ? `w.${quoted(`x ${s.name}`)}` : asShown(s, shown.name(columnAt(s.column.id)))} AS ${quoted(s.name)}`);
  const kept = first ? `WHERE place <= ${Math.trunc(first.rows)}` : met;
  return [`SELECT ${listed.join(",\n  ")}\nFROM (\n${lines}\n) AS w`, kept, inOrder ? shown.ordered(plan.order) : "", limit].filter(Boolean).join("\n");
}

type Again = {
  writer: Writes;
  name: (at: number) => string;
  columnAt: (id: string | null) => number;
  ordered: (order: Plan["order"]) => string;
  parted: (per: string[]) => string;
};

/** A column worked out from the rows beside it, over rows whose columns stand there by name. */
function windowOf(plan: Plan, { kind, of, per, order, direction, rows, period }: PlanWindow, { writer, name, columnAt, ordered, parted }: Again): string {
  const { dialect } = writer;
  const at = columnAt(of);
  const given = { value: name(at), type: plan.columns[at]?.type ?? whole, dialect, parted: parted(per), order: ordered(order), direction, rows };
  if (!period) return windowSql(kind, { ...given, period: null });
  const dated = columnAt(period.column);
  const extract = (part: ExtractPart) => dialect.extract(part, name(dated), { kind: "date" });
  const days = () => dialect.daysBetween(name(dated), writer.bind(FIRST_MONDAY, { kind: "date" }));
  const index: Record<DatePart, () => string> = {
    year: () => extract("YEAR"),
    quarter: () => `(${extract("YEAR")} * 4 + ${extract("QUARTER")})`,
    month: () => `(${extract("YEAR")} * 12 + ${extract("MONTH")})`,
    isoWeek: days,
    day: days,
  };
  const back = period.steps * (period.part === "isoWeek" ? 7 : 1);
  return windowSql(kind, { ...given, period: { index: index[period.part](), back, parted: parted(period.per) } });
}

/** A Monday, from which days are counted. */
const FIRST_MONDAY = "1970-01-05";

/** The terms a plan's rows are ordered by. */
export function orderTerms(
  plan: Pick<Plan, "columns" | "order">,
  { dialect }: Pick<Writes, "dialect">,
  sqlOf: (column: PlanColumn) => string,
  ties: { sql: string; filled: boolean }[],
  isFilled: (column: PlanColumn) => boolean = () => false,
): string[] {
  const terms: string[] = [];
  for (const { column, direction } of plan.order) {
    const at = plan.columns.find((c) => c.id === column);
    if (!at) continue;
    if (at.type.kind === "text") terms.push(dialect.orderBy(dialect.fold(sqlOf(at)), direction));
    terms.push(dialect.orderBy(sqlOf(at), direction, isFilled(at)));
  }
  for (const { sql, filled } of ties) {
    const term = dialect.orderBy(sql, "up", filled);
    if (!terms.includes(term)) terms.push(term);
  }
  return terms;
}
