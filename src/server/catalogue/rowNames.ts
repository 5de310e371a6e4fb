import { z } from "zod";
import type { Schema } from "@/core/schema/schema";
import type { Catalogue } from "./catalogue";

/* By which of its columns the rows of a table are called, where a person chose it. */

const SETTING = "row names";
const namesSchema = z.record(z.string(), z.string());

/** The columns that were chosen, by table; "" where rows are to have no name. */
export const rowNames = (catalogue: Catalogue): Record<string, string> => namesSchema.safeParse(catalogue.setting(SETTING)).data ?? {};

/** Chooses the column that rows of a table are called by; null leaves it to what the columns are called. */
export function chooseRowName(catalogue: Catalogue, table: string, column: string | null): void {
  const { [table]: _, ...others } = rowNames(catalogue);
  catalogue.setSetting(SETTING, column === null ? others : { ...others, [table]: column });
}

/** Takes the choice along when a table or its columns get other names. @param named a column's name from now on */
export function carryRowName(catalogue: Catalogue, from: string, to: string, named: (column: string) => string): void {
  const { [from]: column, ...others } = rowNames(catalogue);
  if (column !== undefined) catalogue.setSetting(SETTING, { ...others, [to]: column === "" ? "" : named(column) });
}

/** A schema whose tables know what was chosen. */
export const withNamed = (schema: Schema, named: Record<string, string>): Schema => ({
  ...schema,
  tables: schema.tables.map((table) => (named[table.name] === undefined ? table : { ...table, named: named[table.name] })),
});
