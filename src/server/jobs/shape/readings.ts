import type { Column } from "@/core/schema/schema";
import { literal } from "@/core/shape/literal";
import type { ShapePlan, ShapePlanColumn } from "@/core/shape/shapePlan";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { registerConverters, registerFinders } from "./convert";

/** SQL of what a planned column has in a row, which throws where that does not fit, and of whether it fits. */
export type Reading = { value: string; fits: string };

/** SQL of a column as it is, of what a formula came to, and of the row's number. */
export type RowSql = { now: (column: string) => string; worked: (column: Column) => string; number: string };

/** Makes known to a connection what the columns of a plan need to be read. @returns the SQL of each in a row */
export function readingsOf(db: FileDatabase, plan: ShapePlan): (planned: ShapePlanColumn, row: RowSql) => Reading {
  const own = registerConverters(
    db,
    plan.columns.flatMap(({ id, column, value }) => (value.kind === "convert" || value.kind === "formula" ? [{ id, column, value }] : [])),
  );
  const instead = registerConverters(
    db,
    plan.columns.flatMap(({ id, column, value }) =>
      value.kind === "convert" && value.instead ? [{ id, column, value: { ...value, from: value.instead, mapped: [], fill: null } }] : [],
    ),
    "instead",
  );
  const find = registerFinders(
    db,
    plan.columns.flatMap(({ id, value }) => (value.kind === "lookup" ? [{ id, value }] : [])),
  );
  const through = (known: ReturnType<typeof registerConverters>, id: string, sql: string): Reading => {
    const made = known.get(id);
    return made ? { value: made.value(sql), fits: made.fits(sql) } : { value: sql, fits: "1" };
  };
  return ({ id, value }, row) => {
    switch (value.kind) {
      case "same":
        return { value: row.now(value.column), fits: "1" };
      case "fill":
        return { value: literal(value.stored), fits: "1" };
      case "number":
        return { value: row.number, fits: "1" };
      case "formula":
        return through(own, id, row.worked(value.from));
      case "lookup":
        return through(find, id, row.now(value.from.name));
      case "convert": {
        const read = through(own, id, row.now(value.from.name));
        if (!value.instead) return read;
        const other = through(instead, id, row.worked(value.instead));
        return { value: `CASE WHEN ${read.fits} THEN ${read.value} ELSE ${other.value} END`, fits: `(${read.fits} OR ${other.fits})` };
      }
      default:
        return value satisfies never;
    }
  };
}
