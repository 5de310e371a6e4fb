import { z } from "zod";
import { EARLIER } from "../chart/choices";
import { pivotFigureSchema } from "../pivot/spec";

/*
 * The saved description of a dashboard: tiles on a grid under one brief of filters. Tiles refer to queries, pivots and
 * charts by id. A filter is on a column of a table; in each tile it meets that column, or another of its kind, at the end
 * of a walk from the tile's source.
 */
const id = z.string().min(1).max(60);

export const stepsSchema = z.array(z.object({ link: z.string(), toward: z.enum(["a", "b"]) })).max(12);

/** How a filter meets a tile: the walk from the tile's source, and the column at its end; the filter's own where none is named. */
const meetingSchema = z.object({ steps: stepsSchema, column: z.string().optional() });
export type Meeting = z.infer<typeof meetingSchema>;

/** What a viewer asks for: some values or all but those, or a span; dates may be relative to the day ("today:…"). null is everything. */
export const filterValueSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("set"), not: z.boolean(), values: z.array(z.string().max(2000)).max(1000) }),
  z.object({ kind: z.literal("span"), from: z.string().max(60), to: z.string().max(60) }),
  /** The signed-in person's own. */
  z.object({ kind: z.literal("person") }),
]);
export type FilterValue = z.infer<typeof filterValueSchema>;
export const filterValuesSchema = z.record(z.string().max(60), filterValueSchema.nullable());
/** A viewer's own values by filter; a filter without one has its default. */
export type FilterValues = z.infer<typeof filterValuesSchema>;

export const filterSchema = z.object({
  id,
  /** As in "every island". */
  label: z.string().min(1).max(100),
  table: z.string(),
  column: z.string(),
  /** By tile; null where it does not meet the tile. A walk alone is how it was kept once. */
  meets: z.record(z.string(), z.union([meetingSchema, stepsSchema.transform((steps): Meeting => ({ steps }))]).nullable()),
  default: filterValueSchema.nullable(),
});
export type DashboardFilter = z.infer<typeof filterSchema>;

const titled = { id, title: z.string().max(200), note: z.string().max(300) };

export const figureTile = z.object({
  ...titled,
  kind: z.literal("figure"),
  query: z.string(),
  figure: pivotFigureSchema,
  compare: z
    .discriminatedUnion("kind", [
      z.object({ kind: z.literal("earlier"), by: z.enum(EARLIER) }),
      z.object({ kind: z.literal("target"), value: z.string().max(30) }),
    ])
    .nullable(),
  /** More is worse: a rise is marked as one. */
  lessIsBetter: z.boolean(),
});
export const chartTile = z.object({ ...titled, kind: z.literal("chart"), chart: z.string() });
const pivotTile = z.object({ ...titled, kind: z.literal("pivot"), pivot: z.string() });
const tableTile = z.object({
  ...titled,
  kind: z.literal("table"),
  query: z.string(),
  /** The columns shown, by id; none means all the query shows. */
  columns: z.array(z.string()).max(60),
  order: z.object({ column: z.string(), direction: z.enum(["up", "down"]) }).nullable(),
  first: z.number().int().min(1).max(500),
  search: z.boolean(),
});
/** Words, in which {…} stands for a figure tile's title, "today", "filters" or "viewer". */
const textTile = z.object({ ...titled, kind: z.literal("text"), text: z.string().max(4000) });
const pictureTile = z.object({
  ...titled,
  kind: z.literal("picture"),
  source: z
    .string()
    .max(700_000)
    .regex(/^(data:image\/(png|jpeg|webp);base64,[A-Za-z0-9+/=]+)?$/),
  alt: z.string().max(300),
});

const plainTileSchema = z.discriminatedUnion("kind", [figureTile, chartTile, pivotTile, tableTile, textTile, pictureTile]);
export type PlainTile = z.infer<typeof plainTileSchema>;
/** Shows one of several tiles at a time. */
const switchTile = z.object({ ...titled, kind: z.literal("switch"), tiles: z.array(plainTileSchema).min(1).max(12) });
export const tileSchema = z.discriminatedUnion("kind", [figureTile, chartTile, pivotTile, tableTile, textTile, pictureTile, switchTile]);
export type Tile = z.infer<typeof tileSchema>;
export type TileKind = Tile["kind"];

/** Where a tile stands on a grid of 12 columns; heights in rows of 28 pixels. */
const placeSchema = z.object({
  tile: id,
  x: z.number().int().min(0).max(11),
  y: z.number().int().min(0).max(2000),
  w: z.number().int().min(1).max(12),
  h: z.number().int().min(2).max(60),
});
export type Place = z.infer<typeof placeSchema>;

export const dashboardSpecSchema = z.object({
  version: z.literal(1),
  filters: z.array(filterSchema).max(30),
  tiles: z.array(tileSchema).max(40),
  wide: z.array(placeSchema).max(40),
  /** On a narrow screen the tiles stand below each other, in this order. */
  narrow: z.array(id).max(40),
  /** Minutes between refreshes; null refreshes by hand alone. */
  refresh: z.number().int().min(1).max(1440).nullable(),
});
export type DashboardSpec = z.infer<typeof dashboardSpecSchema>;
