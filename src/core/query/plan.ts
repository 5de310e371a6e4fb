import type { Expr } from "../expression/expr";
import type { Column, LinkComparison } from "../schema/column";
import type { ColumnFormat } from "../types/schemas";
import type { ValueType } from "../types/valueType";
import type { AggregateName, FigureName, JoinWay, StackName, WindowName } from "./choices";
import type { QuerySpec } from "./spec";
import type { PlanPeriod } from "./windows";

/** A table as it is read. The rules that bind its rows are plans on tables, so that both are said in one file. */
export type Table = {
  /** A saved query whose rows it is, and why it cannot be read, where it cannot. */
  rowsOf?: { spec: QuerySpec; broken?: string | undefined } | undefined;
  name: string;
  label: string;
  columns: Column[];
  /** Columns that tell one row from another; empty where the table has no key. */
  key: string[];
  /** The column that a person chose for rows to be called by; "" where they chose none. */
  named?: string | undefined;
  rows: number;
  /** So many rows are reckoned, by a server or from a sample; they were not counted. */
  reckoned?: true | undefined;
  view?: boolean | undefined;
  /** It lies on a server, where its columns are changed and it is made. */
  onServer?: true | undefined;
  /** The database does not let the ledger change its rows. */
  denied?: true | undefined;
  /** A trigger on it: what that changes besides could not be taken back, so its rows are only read here. */
  trigger?: string | undefined;
  /** Rules on rows that bind the person whose schema this is: the plans of the rows that may be seen, all of which hold. */
  rules?: Plan[] | undefined;
  /** Made for a comparison: it is not to be picked as a table. */
  inner?: boolean | undefined;
  /** Told to a browser in place of the rules: some rows may not be seen. */
  partial?: boolean | undefined;
};

/** The rows a value belongs to. */
export type Home = {
  /** The rows in words: "shippers". */
  words: string;
  /** The tables it is read from, by alias, without those that the others tell. */
  of: string[];
  /** Every table of which its rows tell the row, its own among them. */
  tells: string[];
  /** What tells its rows apart; null where nothing does. */
  keys: Expr[] | null;
  /** Whether two rows of the sheet may hold the value of the same row. */
  repeated: boolean;
};

/** A table brought by a join. `alias` names it in SQL; `path` names it to a person: ["sailing", "vessel"]. */
export type PlanJoin = {
  id: string;
  alias: string;
  from: string;
  table: Table;
  path: string[];
  leadsTo: "one" | "many";
  /** What it leads to the other way: from one of its rows to those it starts from. */
  back: "one" | "many";
  way: JoinWay;
  on: LinkComparison[];
  /** The saved query whose rows the table's are. */
  query?: Plan;
  /** Of a table joined by comparisons of its own: all of which must hold. */
  when?: Expr[];
  /** Brought for a derived field: it leaves out and repeats no row, and has no place in the account. */
  auxiliary?: boolean;
  /** Brings, in place of the table's rows, one row of figures over those that match. */
  rollup?: PlanRollup;
};

/**
 * Figures over the rows of a table for each row of another: one pass, grouped by what the link compares. Where the
 * comparisons are not all equalities, or a condition names the row itself, the different rows of the near table are
 * paired with the far ones first.
 */
export type PlanRollup = {
  alias: string;
  joins: PlanJoin[];
  figures: {
    name: string;
    expr: Expr | null;
    figure: AggregateName | "formula";
    where: Expr[];
    by: Expr | null;
    direction: "up" | "down";
    separator: string;
    percent?: number;
    count?: number /** of a total that counts the rows of its home once */;
    keys?: Expr[];
  }[];
  /** The near table and the columns its rows are told apart by; null where grouping by the far columns will do. */
  pairs: { table: Table; query?: Plan; stack?: PlanStack; alias: string; columns: string[] /** what else must hold of a pair */; when?: Expr[] } | null;
};

export type PlanColumn = {
  id: string;
  /** null only for a count of rows. */
  expr: Expr | null;
  figure?: FigureName;
  type: ValueType;
  heading: string;
  /** Where it comes from, in words: "shipper › island", "total of freight charge". */
  origin: string;
  unit?: string | undefined;
  /** The table of which each value is the key of a row that has a name. */
  rowOf?: string | undefined;
  /** The value of a derived field. */
  derived?: boolean;
  /** For first, last and list: the order, and what stands between; for a weighted average: the weight. */
  by?: Expr | null;
  direction?: "up" | "down";
  separator?: string;
  /** Of a percentile, in hundredths of a percent. */
  percent?: number;
  /** Of the n-th: which; of a list: how many values at most. */
  count?: number;
  /** What it is worked out to from the rows beside it; it has no expression of its own. */
  window?: PlanWindow;
  hidden: boolean;
  format: ColumnFormat;
  /** Whether the footing adds it up. */
  totalled: boolean;
  /** What its footing works out anew over all rows, where it is not added up: an average, a ratio of totals. */
  foot?: Expr;
  /** The rows its values belong to; null for what reads no table. */
  home?: Home | null;
  /** The column whose order it is: its rows' names. It is for no other use. */
  orders?: string;
  /** A person wants repeated values added as often as they stand in the sheet. */
  everyRow?: boolean;
};

/** A column worked out from the rows beside it, once they are there. Columns are named by their ids. */
export type PlanWindow = {
  kind: WindowName;
  /** The column it is of; null for one of the rows alone. */
  of: string | null;
  /** The columns that part the rows: each part is worked out by itself. */
  per: string[];
  /** The order of the rows, before what tells all of them apart. */
  order: Plan["order"];
  direction: "up" | "down";
  rows: number;
  /** A look back by periods, and the columns that with the period tell a row apart. */
  period: (PlanPeriod & { per: string[] }) | null;
};

/** Only the first rows of each part of a sheet, in its order. */
export type PlanFirst = { rows: number; per: string[] };

/**
 * What values some group keys have whether or not a row has them: groups without rows are shown for them. Columns are
 * keys of the plan, by their ids.
 */
export type PlanEvery =
  /** Those found in the rows of another plan, whose columns have the same ids. */
  | { kind: "rows"; columns: string[]; rows: Plan }
  | { kind: "listed"; columns: [string]; values: Expr[] }
  /** From the least value of the key `of` to its greatest; `next` is worked out from STEP, as are the values of each column. */
  | { kind: "steps"; columns: string[]; of: string; next: Expr; values: Expr[] };

/** A condition on rows. `leftOut` says what the rows are like that it leaves out, where “left out by …” would not. */
export type PlanCondition = { id: string; expr: Expr; label: string; leftOut?: string };

export type PlanParameter = {
  name: string;
  type: ValueType;
  text: string | null;
  defaulted: boolean /** Two days with a stroke between them (ISO 8601). */;
  period?: boolean;
};

/** The rows a plan starts from: those of a table, of another query or of several put together, whose columns are the table's. */
export type PlanSource = { alias: string; table: Table; query?: Plan; stack?: PlanStack };

/** The rows of several plans put together: each has the columns of the table, by their names. */
export type PlanStack = { how: StackName; parts: Plan[] };

/**
 * A query resolved against the schema: typed, every column knowing its origin, every parameter bound.
 * Compiler, proof, brief and report read this. The order of operations is the one compile.ts states.
 */
export type Plan = {
  source: PlanSource;
  joins: PlanJoin[];
  conditions: PlanCondition[];
  grouped: boolean;
  /** What a group must meet to be shown, of its figures and its own values. */
  groupConditions: PlanCondition[];
  /** What a line must meet once all its columns are there; they are fields of LINE, by their ids. */
  lineConditions?: PlanCondition[];
  /** Only rows that fall into a group of this plan, over the same source and joins. */
  ofGroups?: Plan;
  columns: PlanColumn[];
  /** Of which keys groups without rows are shown; none where it is unset. */
  every?: PlanEvery[];
  /** The keys, by their ids, behind whose lines a sheet has subtotals; never the last. */
  subtotals?: string[];
  order: { column: string; direction: "up" | "down" }[];
  /** What tells rows apart that the order leaves level, so that paging never loses or repeats one. */
  tieBreak: Expr[];
  limit: number | null;
  firstOf: PlanFirst | null;
  parameters: PlanParameter[];
};

/** The name under which conditions on lines read a plan's columns. */
export const LINE = "line";

/** The conditions that lines are held against when they are there: first those on groups, then those on lines. */
export const lateConditions = ({ groupConditions, lineConditions = [] }: Plan): PlanCondition[] => [...groupConditions, ...lineConditions];

/** A plan with all the rows that meet its conditions, whatever number of them is shown. */
export const uncut = (plan: Plan): Plan => ({ ...plan, limit: null, firstOf: null });

/**
 * The rows that fall into the groups a plan shows, ungrouped.
 * @param shown says which groups those are, where it is not the plan itself
 */
export const rowsOfGroups = (plan: Plan, shown = plan): Plan => ({
  ...uncut(plan),
  grouped: false,
  lineConditions: [],
  ...(shown.groupConditions.length > 0 || isCut(shown) ? { ofGroups: shown } : {}),
});

/** Whether a column of groups is one that they are made by. */
export const isKey = ({ figure, expr }: PlanColumn): boolean => !figure && expr !== null;

/** The keys for whose values groups without rows are shown. */
export const everyOf = (plan: Plan): PlanEvery[] => (plan.grouped ? (plan.every ?? []) : []);

/** Whether a plan shows some of its lines only, by their order or by what stands in them. */
export const isCut = (plan: Plan): boolean => plan.limit !== null || plan.firstOf !== null || (plan.lineConditions ?? []).length > 0;

export const visibleColumns = (plan: Plan): PlanColumn[] => plan.columns.filter((c) => !c.hidden);
