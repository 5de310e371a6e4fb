import { z } from "zod";
import { columnFormatSchema, groupPartSchema, relativeDateSchema } from "../types/schemas";
import {
  AGGREGATE_NAMES,
  BACK_NAMES,
  FIGURE_NAMES,
  HOLDS_NAMES,
  JOIN_WAY_NAMES,
  LEAST_WIDTH,
  MARK_LOOKS,
  MARK_TESTS,
  MARK_TONES,
  MOST_LETTERS,
  MOST_WIDTH,
  OPERATOR_NAMES,
  PARAMETER_NAME,
  PARAMETER_VALUE_MOST,
  STACK_NAMES,
  WINDOW_NAMES,
} from "./choices";
import { upgradeQuery } from "./upgrade";

/**
 * The saved description of a query. A person builds this; everything else (plan, SQL, proof, brief) is worked out
 * from it. Fields name tables by the id of their join; the source's id is "".
 */
const id = z.string().max(60);

/** Numbers put together by bands of one width, counted from 0; in the field's own notation. */
const bandSchema = z.object({ width: z.string().max(30) });

/**
 * A figure over the rows that a link leads to from each row, which repeats none of them: what a rollup of a table is,
 * for one query alone.
 */
export type RelatedFigure = {
  kind: "related";
  /** The join whose rows it is for; "" is the source. */
  join: string;
  step: { link: string; toward: "a" | "b" };
  figure: (typeof AGGREGATE_NAMES)[number];
  /** Of the related table; null only for a count of rows. */
  column: string | null;
  /** What related rows must meet; their table is "" to it. */
  where?: ConditionTree[] | undefined;
  /** Tables that this asks of beside theirs. */
  joins?: Join[] | undefined;
  /** What it was called when it was chosen: "total of surcharges › amount". */
  words: string;
};

const relatedSchema: z.ZodType<RelatedFigure> = z.object({
  kind: z.literal("related"),
  join: id,
  step: z.object({ link: z.string(), toward: z.enum(["a", "b"]) }),
  figure: z.enum(AGGREGATE_NAMES),
  column: z.string().nullable(),
  where: z.lazy(() => z.array(conditionSchema).max(100)).optional(),
  joins: z.lazy(() => z.array(joinSchema).max(20)).optional(),
  words: z.string().max(200),
});

const ownSchema = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("field"),
    join: id,
    column: z.string(),
    part: groupPartSchema.optional(),
    band: bandSchema.optional(),
    /** Numbers put together by limits of a person's own, each the least of its band; in the field's own notation. */
    limits: z.array(z.string().max(30)).min(1).max(50).optional(),
    /** Of a text, so many of its first letters. */
    letters: z.number().int().min(1).max(MOST_LETTERS).optional(),
  }),
  z.object({ kind: z.literal("formula"), text: z.string().max(4000) }),
  /** One of the query's own columns, as it stands in a group: for conditions on groups. */
  z.object({ kind: z.literal("column"), id }),
]);
export const operandSchema = z.union([ownSchema, relatedSchema]);
export type Operand = z.infer<typeof operandSchema>;

/** A value a person typed, as text in the field's own notation; "" is not yet filled in. Yes/no is "yes" or "no". */
export const valueSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("value"), text: z.string().max(2000) }),
  z.object({ kind: z.literal("parameter"), name: z.string() }),
  z.object({ kind: z.literal("relative"), date: relativeDateSchema }),
  z.object({ kind: z.literal("field"), join: id, column: z.string() }),
  /** One of the query's own columns, beside another in a condition on groups. */
  z.object({ kind: z.literal("column"), id }),
  /** What the data knows the signed-in person as. */
  z.object({ kind: z.literal("person") }),
  /** The values of a column of a table or saved query, by its name among the tables. */
  z.object({ kind: z.literal("rows"), table: z.string(), column: z.string() }),
]);
export type Value = z.infer<typeof valueSchema>;

const comparisonSchema = z.object({
  id,
  left: operandSchema,
  operator: z.enum(OPERATOR_NAMES),
  values: z.array(valueSchema).max(1000),
});
/** One comparison: what a row must meet. */
export type Condition = z.infer<typeof comparisonSchema>;

/** Conditions of which all, any or none must hold. */
export type ConditionGroup = { id: string; holds: (typeof HOLDS_NAMES)[number]; of: ConditionTree[] };
export type ConditionTree = Condition | ConditionGroup;

export const conditionSchema: z.ZodType<ConditionTree> = z.lazy(() =>
  z.union([z.object({ id, holds: z.enum(HOLDS_NAMES), of: z.array(conditionSchema).max(100) }), comparisonSchema]),
);

/** A table joined along a link. */
const linkedSchema = z.object({
  id: id.min(1),
  /** The join it starts from; "" is the source. */
  from: id,
  link: z.string(),
  toward: z.enum(["a", "b"]),
  /** What becomes of rows without a match on either side (query/joinWays.ts). */
  way: z.enum(JOIN_WAY_NAMES),
  /** What its rows must meet to be a match; only where the join brings no columns. */
  where: z.array(conditionSchema).max(100).optional(),
});
export type LinkedJoin = z.infer<typeof linkedSchema>;

/** A table or saved query joined by comparisons of its columns with others; none only where every pair is wanted. */
const comparedSchema = z.object({
  id: id.min(1),
  from: id,
  table: z.string(),
  on: z.array(conditionSchema).max(50),
  way: z.enum(JOIN_WAY_NAMES),
});
export type ComparedJoin = z.infer<typeof comparedSchema>;

const joinSchema = z.union([linkedSchema, comparedSchema]);
export type Join = LinkedJoin | ComparedJoin;

export const columnSchema = z.object({
  id: id.min(1),
  /** null only for a count of rows. */
  value: operandSchema.nullable(),
  /** In a grouped query a column without a figure is a group key. */
  figure: z.enum(FIGURE_NAMES).optional(),
  /** What a row must meet to be counted in the figure. */
  where: z.array(conditionSchema).max(100).optional(),
  /** For first and last: the field whose order tells; for a list: its order; for a weighted average: the weight. */
  by: operandSchema.optional(),
  direction: z.enum(["up", "down"]).optional(),
  /** Between the values of a list. */
  separator: z.string().max(20).optional(),
  label: z.string().max(200).optional(),
  /** The unit a person gave it; "" for none. Unset: that of what it is worked out from. */
  unit: z.string().max(20).optional(),
  hidden: z.boolean().optional(),
  /** Pixels in a sheet, at the usual size of type; unset: as wide as its values. */
  width: z.number().int().min(LEAST_WIDTH).max(MOST_WIDTH).optional(),
  format: columnFormatSchema.optional(),
  /** Of a figure over the rows shown: which, and over which of them. Its value is a column of the query, or null. */
  window: z
    .object({
      kind: z.enum(WINDOW_NAMES),
      /** Columns of the query: rows with one value in them are worked out by themselves. */
      per: z.array(id).max(20).optional(),
      /** The column whose order counts; unset: the order of the query. Of a look back by periods: the one with the dates. */
      by: id.optional(),
      direction: z.enum(["up", "down"]).optional(),
      rows: z.number().int().min(1).max(10_000).optional(),
      back: z.enum(BACK_NAMES).optional(),
    })
    .optional(),
  /** Of a percentile. */
  percent: z.number().min(0).max(100).optional(),
  /** Of the n-th: which; of a list: how many values at most. */
  count: z.number().int().min(1).max(1000).optional(),
  /** The figure its footing shows; when unset, what the column is decides. In a grouped query every choice but none is the column's own. */
  footing: z.enum(["none", ...AGGREGATE_NAMES]).optional(),
  /** A total adds a value as often as it stands in the rows, also where a link repeats it; otherwise once for each row it belongs to. */
  everyRow: z.boolean().optional(),
  /** Of a group key but the last: behind the lines of each of its values stands a subtotal. */
  subtotal: z.boolean().optional(),
  /** Of a group key: groups without rows are shown too, for each value it can have. */
  everyValue: z.boolean().optional(),
});
export type QueryColumn = z.infer<typeof columnSchema>;

export const parameterDefaultSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("fixed"), text: z.string().max(2000) }),
  z.object({ kind: z.literal("relative"), date: relativeDateSchema }),
]);
export type ParameterDefault = z.infer<typeof parameterDefaultSchema>;

export const parameterSchema = z.object({
  name: z.string().regex(PARAMETER_NAME).max(60),
  type: z.enum(["text", "whole", "decimal", "date", "timestamp", "period", "yesno", "choice", "several"]),
  /** Of one or several of a list: what there is to choose. For several, none means any values, a line each. */
  choices: z.array(z.string()).max(500).optional(),
  /** Of one or several of a list: the column of a table or saved query whose values there are to choose, in place of fixed ones; `shown` is the column they are sought and shown by. */
  from: z.object({ table: z.string(), column: z.string(), shown: z.string().optional() }).optional(),
  default: parameterDefaultSchema.optional(),
  /** Left empty, the conditions that use it are dropped. */
  optional: z.boolean().optional(),
});
export type Parameter = z.infer<typeof parameterSchema>;

/** A figure from another source that the query must agree with: a count of its rows, or the total of a column. */
export const controlSchema = z.object({ id, source: z.string().max(200), column: id.nullable(), value: z.string().max(60) });
export type ControlTotal = z.infer<typeof controlSchema>;

/** A column of either source. */
const comparedFields = z.object({ here: z.string(), there: z.string() });

const currentSchema = z.object({
  version: z.literal(2),
  /** A table, or a saved query by its name among the tables. */
  source: z.string(),
  /** Other tables and saved queries whose rows are put together with the source's, columns by their names. */
  stack: z
    .object({
      how: z.enum(STACK_NAMES),
      parts: z.array(z.string()).min(1).max(20),
      /** For a part, in its place: which of its columns stands for one of the source's; null leaves that empty. Unset: the one of its name. */
      pairs: z.array(z.record(z.string(), z.string().nullable())).max(20).optional(),
    })
    .optional(),
  /** Two sources held against each other by a key; the query's source is then their rows (query/comparison.ts). */
  compare: z
    .object({
      here: z.string(),
      /** "" while none is chosen. */
      there: z.string(),
      key: z.array(comparedFields).max(10),
      fields: z.array(comparedFields).max(30),
      /** Fields that are shown beside, of one side or of both: "" where a side has none. They make no row different. */
      carried: z.array(comparedFields).max(30).optional(),
      /** Up to which difference two numbers count as the same; in plain digits. */
      tolerance: z.string().max(30),
    })
    .optional(),
  joins: z.array(joinSchema).max(60),
  conditions: z.array(conditionSchema).max(200),
  grouped: z.boolean(),
  /** What a group must meet to be shown: comparisons of the query's own columns. */
  groupConditions: z.array(conditionSchema).max(100).optional(),
  /** What a line of the sheet must meet to be shown once all its columns are there: comparisons of the query's own columns, also of those worked out from the lines beside. */
  lineConditions: z.array(conditionSchema).max(100).optional(),
  columns: z.array(columnSchema).max(500),
  order: z.array(z.object({ column: id, direction: z.enum(["up", "down"]) })).max(50),
  limit: z.number().nullable(),
  /** How many of the first columns stay in sight when a sheet is moved sideways. */
  frozen: z.number().int().min(1).max(50).optional(),
  /** Cells of the sheet that are marked by a rule: of the column itself, or of another (`by`). A bar has no rule. */
  marks: z
    .array(
      z.object({
        id,
        column: id,
        look: z.enum(MARK_LOOKS),
        tone: z.enum(MARK_TONES),
        test: z.enum(MARK_TESTS),
        /** In the column's own notation; not of those that ask for emptiness. */
        value: z.string().max(200),
        by: id.optional(),
      }),
    )
    .max(50)
    .optional(),
  /** Only the first rows for each value of some columns. */
  firstOf: z.object({ rows: z.number().int().min(1).max(100_000), per: z.array(id).max(20) }).optional(),
  parameters: z.array(parameterSchema).max(60),
  /** The column whose figure the proof follows; unset: the first one that adds up. */
  proofColumn: id.optional(),
  controls: z.array(controlSchema).max(20).optional(),
});
export type QuerySpec = z.infer<typeof currentSchema>;

/** Reads a saved query of any version there has been. */
export const querySpecSchema = z.preprocess(upgradeQuery, currentSchema);

/** What a person, a schedule or a report gives for parameters: text in the parameter's own notation. */
export const parameterValuesSchema = z.record(z.string(), z.string().max(PARAMETER_VALUE_MOST));
export type ParameterValues = z.infer<typeof parameterValuesSchema>;
