import type { Schema } from "../schema/schema";
import type { Today } from "../types/calendar";
import { usualDay } from "../types/calendar";
import { comparisonSchema } from "./comparison";
import { resolveQuery } from "./resolve";
import type { QuerySpec } from "./spec";

/** The schema a description reads: where it compares two sources, with their rows as a table. */
export const schemaRead = (schema: Schema, spec: QuerySpec, today: Today = usualDay("2000-01-01")): Schema =>
  spec.compare ? comparisonSchema(schema, spec, today, resolveQuery) : schema;
