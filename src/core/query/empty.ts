import type { QuerySpec } from "./spec";

export const emptyQuery = (source: string): QuerySpec => ({
  version: 1,
  source,
  joins: [],
  conditions: [],
  grouped: false,
  columns: [],
  order: [],
  limit: null,
  parameters: [],
});
