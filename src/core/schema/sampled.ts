import { sameType, type ValueType } from "../types/valueType";
import { findColumn, findTable, type Schema } from "./schema";

/*
 * A shape that was read from a sample of a large table's values, before all of them were looked at. Each value of a
 * sampled column is read with a look at what it is, so figures on it are right for the type that it has meanwhile.
 */

/** Whether some columns have their types from a sample. */
export const isSampled = ({ tables }: Schema): boolean => tables.some((t) => t.columns.some((c) => c.sampled));

/**
 * A sampled shape with the types that a look at all values found before others wrote, which know more of it than a sample;
 * as it is where the tables were made otherwise since.
 */
export function withKnownTypes(sampled: Schema, known: Schema): Schema {
  if (sampled.structure !== known.structure) return sampled;
  const tables = sampled.tables.map((table) => {
    const before = findTable(known, table.name);
    const columns = table.columns.map((column) => {
      const was = column.sampled && before && findColumn(before, column.name);
      if (!was) return column;
      const { type, misfits, long } = was;
      // A timestamp is read as one that may be of either kind still.
      const storage = type.kind === "timestamp" ? "written" : was.storage;
      return { ...column, type, storage, misfits, ...(long ? { long } : { long: undefined }) };
    });
    return { ...table, columns };
  });
  return { ...sampled, tables };
}

/** A column that is of another type than a sample told, by labels. */
export type Retyped = { table: string; column: string; from: ValueType; to: ValueType };

/** What the look at all values found otherwise than the sample did; values that do not fit are told in other places. */
export const retypedColumns = (sampled: Schema, whole: Schema): Retyped[] =>
  sampled.tables.flatMap((table) => {
    const now = findTable(whole, table.name);
    return table.columns.flatMap((column): Retyped[] => {
      const found = column.sampled && now && findColumn(now, column.name);
      if (!found || sameType(column.type, found.type)) return [];
      return [{ table: table.label, column: column.label, from: column.type, to: found.type }];
    });
  });
