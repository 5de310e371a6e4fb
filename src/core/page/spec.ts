import { z } from "zod";
import { panelSchema } from "../folio/spec";
import { OPERATOR_NAMES } from "../query/choices";
import { isSite } from "./site";

/*
 * The saved description of a published page: what it shows, and to whom it may be shown. Its address, its passcode and
 * how often it was seen are kept apart (server/services/pages), so that nobody who reads this learns them.
 */

/** A field of a search form: a parameter of the query, or a comparison with a column of its rows. */
export const searchFieldSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("parameter"), name: z.string(), label: z.string().max(100) }),
  z.object({
    kind: z.literal("column"),
    column: z.string(),
    label: z.string().max(100),
    input: z.enum(["typed", "choice", "several", "range"]),
    /** The comparisons a visitor may choose from, for what is typed; the first is what the form begins with. */
    operators: z.array(z.enum(OPERATOR_NAMES)).max(8),
  }),
]);
export type SearchField = z.infer<typeof searchFieldSchema>;

/** What is shown of one row: columns of its table, and panels of rows that belong to it. */
export const detailsSchema = z.object({ columns: z.array(z.string()).max(100), panels: z.array(panelSchema).max(10) });

/** What people who are signed in may change on the page, and who. */
export const changesSchema = z.object({
  roles: z.array(z.enum(["analyst", "viewer"])).max(2),
  columns: z.array(z.string()).max(50),
  remove: z.boolean(),
});

export const searchSchema = z.object({
  kind: z.literal("search"),
  query: z.string(),
  fields: z.array(searchFieldSchema).max(30),
  /** The query's columns that are shown, in order. */
  columns: z.array(z.string()).min(1, "Choose at least one column.").max(60),
  perPage: z.number().int().min(5).max(200),
  sortable: z.boolean(),
  /** Whether all rows are shown before anything is asked. */
  atOnce: z.boolean(),
  details: detailsSchema.nullable(),
  changes: changesSchema.nullable(),
});
export type SearchSpec = z.infer<typeof searchSchema>;

/** A site that may show the page within its own: scheme and host, and no path. */
const originSchema = z.string().refine(isSite, "Write a site like https://www.example.org, without a path.");

export const pageSpecSchema = z.object({
  version: z.literal(1),
  title: z.string().max(200),
  intro: z.string().max(2000),
  subject: z.discriminatedUnion("kind", [
    searchSchema,
    ...(["report", "pivot", "chart", "dashboard"] as const).map((kind) => z.object({ kind: z.literal(kind), id: z.string() })),
  ]),
  /** Off at once: nothing is shown to anybody. */
  open: z.boolean(),
  /** The last day it is shown, in the workspace's zone. */
  ends: z
    .string()
    .regex(/^\d{4}-\d\d-\d\d$/)
    .nullable(),
  embed: z.array(originSchema).max(20),
});
export type PageSpec = z.infer<typeof pageSpecSchema>;
export type PageSubject = PageSpec["subject"];
