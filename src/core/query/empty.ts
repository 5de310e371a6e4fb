import type { QuerySpec } from "./spec";

export const emptyQuery = (source: string): QuerySpec => ({
  version: 2,
  source,
  joins: [],
  conditions: [],
  grouped: false,
  columns: [],
  order: [],
  limit: null,
  parameters: [],
});
