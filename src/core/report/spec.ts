import { z } from "zod";
import { panelSchema } from "../folio/spec";
import { AGGREGATE_NAMES } from "../query/choices";
import { querySpecSchema } from "../query/spec";
import { columnFormatSchema, groupPartSchema, pictureData } from "../types/schemas";
import { MARK_TONES, PAPER_NAMES, REPORT_WINDOWS } from "./choices";
import { upgradeReport } from "./upgrade";

/*
 * The saved description of a printed report. Widths and places on the paper are in mm. A text may hold fields in braces:
 * formulas over the report's row, figures over its group, or what the page tells ({page}); see texts.ts.
 */

const id = z.string().min(1).max(60);
const mm = z.number().min(0).max(100);
const text = z.string().max(2000);
const formula = z.string().max(4000);

/** What rows are grouped by: a column of the query (a part, band or first letters of it), or a formula over its columns. */
const groupedSchema = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("field"),
    column: z.string(),
    part: groupPartSchema.optional(),
    band: z.object({ width: z.string().max(30) }).optional(),
    limits: z.array(z.string().max(30)).min(1).max(50).optional(),
    letters: z.number().int().min(1).max(20).optional(),
  }),
  z.object({ kind: z.literal("formula"), text: formula }),
]);
export type Grouped = z.infer<typeof groupedSchema>;

export const levelSchema = z.object({
  id,
  value: groupedSchema,
  /** The heading's text; {} stands for the group's value, which is all that stands there where it is empty. */
  heading: text,
  /** By its own value, by a figure of a footing line (largest first), or by a list of values. */
  order: z.discriminatedUnion("by", [
    z.object({ by: z.literal("value") }),
    z.object({ by: z.literal("figure"), line: id, column: id }),
    z.object({ by: z.literal("list"), values: z.array(z.string().max(200)).max(200) }),
  ]),
  direction: z.enum(["up", "down"]),
  /** Only so many groups by themselves, the rest as one. */
  first: z.number().int().min(1).max(10_000).optional(),
  /** Groups that no row makes, for each value there can be. */
  every: z.boolean().optional(),
  newPage: z.boolean(),
  /** Pages are numbered from 1 in each group. */
  restart: z.boolean().optional(),
  /** On one page where it fits on one. */
  keepWhole: z.boolean().optional(),
  /** A heading stays on a page with at least so many of its rows. */
  keepRows: z.number().int().min(1).max(20),
  /** Whether the heading stands again, "continued", where its group goes on over a page. */
  repeat: z.boolean(),
  /** Nothing of what is in the group is printed but its footing. */
  totalsOnly: z.boolean().optional(),
});
export type ReportLevel = z.infer<typeof levelSchema>;

/** What a column prints: a column of the query, or a formula over its columns and over figures of the groups its rows are in. */
const valueSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("field"), column: z.string() }),
  z.object({ kind: z.literal("formula"), text: formula }),
]);

export const reportColumnSchema = z.object({
  id,
  value: valueSchema,
  /** The level whose groups the figures in its formula are over, by id, or GRAND; unset: the innermost. */
  over: z.string().max(60).optional(),
  label: z.string().max(200).optional(),
  widthMm: z.number().min(5).max(300).nullable(),
  /** Over several lines where it is longer than its column; else cut with an ellipsis. */
  wrap: z.boolean().optional(),
  format: columnFormatSchema.optional(),
  /** The same value as in the row above is not printed again in a group. */
  once: z.boolean().optional(),
  /** Worked out from the rows beside it, in the groups of a level or in all rows. */
  window: z.object({ kind: z.enum(REPORT_WINDOWS), level: z.string().max(60) }).optional(),
  /** Printed only where a formula is true. */
  when: formula.optional(),
  marks: z
    .array(z.object({ when: formula, tone: z.enum(MARK_TONES), sign: z.string().max(3) }))
    .max(10)
    .optional(),
});
export type ReportColumn = z.infer<typeof reportColumnSchema>;

/** A figure under a column: of the column's values, or a formula over figures. */
const cellSchema = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("figure"),
    figure: z.enum(AGGREGATE_NAMES),
    /** The column of the query whose order tells (first, last, list), or the weight. */
    by: z.string().optional(),
    direction: z.enum(["up", "down"]).optional(),
    separator: z.string().max(20).optional(),
    percent: z.number().min(0).max(100).optional(),
    count: z.number().int().min(1).max(1000).optional(),
    format: columnFormatSchema.optional(),
  }),
  z.object({ kind: z.literal("formula"), text: formula, format: columnFormatSchema.optional() }),
]);
export type FootingCell = z.infer<typeof cellSchema>;

/** A line of footings: under (or over) the rows of each group of some levels, and of all rows. */
export const lineSchema = z.object({
  id,
  /** Levels by their ids, the whole report by ""; unset: all of them. */
  levels: z.array(z.string().max(60)).max(10).optional(),
  before: z.boolean().optional(),
  /** Empty: the group and its count of rows. */
  text,
  /** By the columns under which they stand. */
  cells: z.record(z.string(), cellSchema),
});
export type FootingLine = z.infer<typeof lineSchema>;

/** Rows that belong to each row or group: a folio's panel, every row of which is printed. */
type RelatedCommon = {
  /** The level under whose groups it stands; "" under each row. */
  under: string;
  /** The join of the query whose row they belong to; "" is the source's. */
  of: string;
  keepWhole?: boolean | undefined;
  /** Totals are carried over a page's end. */
  carried?: boolean | undefined;
  /** In mm, by the columns of its query. */
  widths?: Record<string, number> | undefined;
};
export type RelatedTable = Omit<z.infer<typeof panelSchema>, "first"> & RelatedCommon & { related?: RelatedTable[] | undefined };

const relatedOwn = panelSchema.omit({ first: true }).extend({
  under: z.string().max(60),
  of: z.string().max(60),
  keepWhole: z.boolean().optional(),
  carried: z.boolean().optional(),
  widths: z.record(z.string(), z.number().min(5).max(300)).optional(),
});
export const relatedTableSchema = relatedOwn.extend({ related: z.array(relatedOwn).max(5).optional() });

const partsSchema = z.object({ left: text, center: text, right: text });
export type ThreeParts = z.infer<typeof partsSchema>;

const pictureSchema = z.object({
  data: pictureData,
  widthMm: z.number().min(5).max(200),
  alt: z.string().max(200),
  at: z.enum(["left", "center", "right"]),
});
export type ReportPicture = z.infer<typeof pictureSchema>;

/** How rows stand on the paper: in a table, each as a block of its values, in columns down the page, or on labels. */
export const shapeSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("table") }),
  /** `across`: so many values side by side. */
  z.object({ kind: z.literal("blocks"), across: z.number().int().min(1).max(4) }),
  z.object({ kind: z.literal("columns"), count: z.number().int().min(2).max(6), gapMm: mm }),
  z.object({
    kind: z.literal("labels"),
    widthMm: z.number().min(15).max(300),
    heightMm: z.number().min(10).max(300),
    gapXMm: mm,
    gapYMm: mm,
    /** Lines of each label; one that comes out empty is left out. */
    lines: z.array(text).max(12),
  }),
]);
export type ReportShape = z.infer<typeof shapeSchema>;

export const passageSchema = z.object({
  id,
  /** Before all rows, after them, or under the headings of a level. */
  at: z.union([z.enum(["start", "end"]), z.object({ level: z.string().max(60) })]),
  text: z.string().max(10_000),
  /** Printed only where a formula is true, of the first row that it stands over. */
  when: formula.optional(),
  align: z.enum(["left", "center", "right"]).optional(),
});
export type Passage = z.infer<typeof passageSchema>;

/** A chart or a cross-table of each group's rows: a saved one over the report's query, kept to the group. */
export const insertSchema = z.object({
  id,
  kind: z.enum(["pivot", "chart"]),
  /** The saved item. */
  of: z.string().max(60),
  /** The level under whose groups it stands, by id; over their rows, or under their footings. */
  under: id,
  at: z.enum(["top", "foot"]),
  /** How high a chart is. */
  heightMm: z.number().min(25).max(250),
});
export type Insert = z.infer<typeof insertSchema>;

/**
 * A line of a summary: a formula over the group's figures (or a field of its first row), the total of a column of a table of
 * related rows, or what the lines above it come to. `minus`: it is taken away.
 */
export const summaryLineSchema = z.object({
  id,
  text,
  of: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("formula"), text: formula }),
    z.object({ kind: z.literal("related"), table: id, column: z.string().max(200) }),
    z.object({ kind: z.literal("sum") }),
  ]),
  minus: z.boolean().optional(),
});
export type SummaryLine = z.infer<typeof summaryLineSchema>;
/** What closes each group of a level, under its footings and related rows. */
const summarySchema = z.object({ under: id, lines: z.array(summaryLineSchema).max(20) });
export type Summary = z.infer<typeof summarySchema>;

/** Pivots and charts printed after the rows, in order. */
export const closingSchema = z.array(z.object({ kind: z.enum(["pivot", "chart"]), id: z.string() })).max(10);

const currentSchema = z.object({
  version: z.literal(2),
  /** The saved query it is made from; not read where it has its own. */
  query: z.string(),
  /** A query kept inside the report; a table is one that shows all its columns. */
  own: querySpecSchema.optional(),
  title: text,
  subtitle: text.optional(),
  showBrief: z.boolean(),
  showParameters: z.boolean().optional(),
  showControls: z.boolean().optional(),
  levels: z.array(levelSchema).max(8),
  columns: z.array(reportColumnSchema).max(60),
  lines: z.array(lineSchema).max(20),
  /** Columns whose totals are carried forward at a page's end and brought forward on the next. */
  carried: z.array(id).max(20).optional(),
  related: z.array(relatedTableSchema).max(10).optional(),
  summaries: z.array(summarySchema).max(8).optional(),
  inserts: z.array(insertSchema).max(10).optional(),
  passages: z.array(passageSchema).max(30).optional(),
  shape: shapeSchema,
  page: z.object({
    paper: z.enum(PAPER_NAMES),
    landscape: z.boolean(),
    margins: z.object({ top: mm, right: mm, bottom: mm, left: mm }),
    /** Left and right margins change places on even pages, for binding. */
    duplex: z.boolean().optional(),
  }),
  header: partsSchema,
  footer: partsSchema,
  /** Header and footer of the first page, where they are others. */
  first: z.object({ header: partsSchema, footer: partsSchema }).optional(),
  letterhead: pictureSchema.optional(),
  parameters: z.record(z.string(), z.string()),
  /** Whether the rows are printed, or only what they come to; printed where it is not said. */
  details: z.boolean().optional(),
  closing: closingSchema.optional(),
});
export type ReportSpec = z.infer<typeof currentSchema>;

/** Reads a saved report of any version there has been. */
export const reportSpecSchema = z.preprocess(upgradeReport, currentSchema);
