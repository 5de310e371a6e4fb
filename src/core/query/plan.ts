import type { Expr } from "../expression/expr";
import type { Table } from "../schema/schema";
import type { ColumnFormat } from "../types/format";
import type { ValueType } from "../types/valueType";
import type { AggregateName } from "./aggregates";

/** A table brought by a join. `alias` names it in SQL; `path` names it to a person: ["sailing", "vessel"]. */
export type PlanJoin = {
  id: string;
  alias: string;
  from: string;
  table: Table;
  path: string[];
  leadsTo: "one" | "many";
  unmatched: "keep" | "only";
  on: { near: string; far: string }[];
  /** Brings, in place of the table's rows, how many of them match: one row each, column "n". */
  countsMatches?: boolean;
};

export type PlanColumn = {
  id: string;
  /** null only for a count of rows. */
  expr: Expr | null;
  figure?: AggregateName;
  type: ValueType;
  heading: string;
  /** Where it comes from, in words: "shipper › island", "total of freight charge". */
  origin: string;
  unit?: string | undefined;
  hidden: boolean;
  format: ColumnFormat;
  /** Whether the footing adds it up. */
  totalled: boolean;
};

export type PlanCondition = { id: string; expr: Expr; label: string };

export type PlanParameter = { name: string; type: ValueType; text: string | null; defaulted: boolean };

/**
 * A query resolved against the schema: typed, every column knowing its origin, every parameter bound.
 * Compiler, proof, brief and report read this. The order of operations is the one compile.ts states.
 */
export type Plan = {
  source: { alias: string; table: Table };
  joins: PlanJoin[];
  conditions: PlanCondition[];
  grouped: boolean;
  columns: PlanColumn[];
  order: { column: string; direction: "up" | "down" }[];
  /** What tells rows apart that the order leaves level, so that paging never loses or repeats one. */
  tieBreak: Expr[];
  limit: number | null;
  parameters: PlanParameter[];
};

export const visibleColumns = (plan: Plan): PlanColumn[] => plan.columns.filter((c) => !c.hidden);
