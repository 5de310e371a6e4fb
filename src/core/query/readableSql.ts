import { digitsOf, isNumber, scaleOf, type ValueType } from "../types/valueType";
import { rowsSql, type Sql, SqlWriter } from "./compile";
import type { Dialect } from "./dialect/dialect";
import type { Plan } from "./plan";

/** A decimal as a number with its point: what is kept is a whole number of its last digits. */
const withPoint = (type: ValueType) => (sql: string) => (scaleOf(type) > 0 ? `ROUND(${sql} / 1e${scaleOf(type)}, ${digitsOf(type)})` : sql);

/**
 * The SQL of a sheet for a person to read, its columns by their headings, decimals with their point; and the same with
 * each value in its place, to be run by another program. It is never run here.
 */
export function readableSql(plan: Plan, dialect: Dialect): Sql & { written: string } {
  const sqlBy = (writer: SqlWriter): string => {
    const select = plan.columns.map((column) => ({ column, name: column.heading, shown: withPoint(column.type) }));
    return rowsSql(plan, writer, select, { ordered: true });
  };
  const literalSql = (value: string | null, type: ValueType): string => {
    if (value === null) return "NULL";
    return isNumber(type) || type.kind === "yesno" ? value : `'${value.replaceAll("'", "''")}'`;
  };
  const bound = new SqlWriter(dialect);
  return { ...bound.sql(sqlBy(bound)), written: `${sqlBy(new SqlWriter(dialect, literalSql))};` };
}
