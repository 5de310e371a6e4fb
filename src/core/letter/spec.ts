import { z } from "zod";
import { panelSchema } from "../folio/spec";
import { parameterValuesSchema } from "../query/spec";
import { PAPER_NAMES } from "../report/choices";
import { columnFormatSchema, pictureData } from "../types/schemas";
import { ADDRESS_WINDOW_NAMES } from "./choices";

/*
 * The saved description of a letter: its texts as documents (the editor's JSON), with fields where values of the row
 * come in. A document is a list of blocks; a block holds words, fields and line breaks, or other blocks.
 */

const marks = z
  .array(z.object({ type: z.enum(["bold", "italic"]) }))
  .max(4)
  .optional();
export type Marks = z.infer<typeof marks>;
const text = z.object({ type: z.literal("text"), text: z.string().max(20_000), marks });
/** A value of the row: a formula over the query's columns, and how it is written where that is not the column's own way. */
const field = z.object({
  type: z.literal("field"),
  attrs: z.object({ formula: z.string().max(4000), format: columnFormatSchema.nullable().optional() }),
  marks,
});
const hardBreak = z.object({ type: z.literal("hardBreak") });
const inlineSchema = z.discriminatedUnion("type", [text, field, hardBreak]);
export type Inline = z.infer<typeof inlineSchema>;

/** When a passage is printed: where a formula is true, or where a table of the letter has rows (or has none). */
export const whenSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("formula"), text: z.string().max(4000) }),
  z.object({ kind: z.literal("rows"), table: z.string(), some: z.boolean() }),
]);
export type When = z.infer<typeof whenSchema>;

const ALIGNS = ["left", "center", "right"] as const;
const align = z.enum(ALIGNS).nullable().optional();
export type Align = (typeof ALIGNS)[number];

/** A picture in the text; its height follows its width. */
const pictureAttrs = z.object({ data: pictureData, widthMm: z.number().min(5).max(200), alt: z.string().max(200), align });
export type ListItem = { type: "listItem"; content: Block[] };
/** A cell of a table that is typed: paragraphs one under the other. */
export type TableCell = { type: "tableCell" | "tableHeader"; content: Block[] };
export type TableRow = { type: "tableRow"; content: TableCell[] };
export type Block =
  | { type: "paragraph"; attrs?: { align?: Align | null | undefined } | undefined; content?: Inline[] | undefined }
  | { type: "heading"; attrs: { level: number; align?: Align | null | undefined }; content?: Inline[] | undefined }
  | { type: "bulletList" | "orderedList"; content: ListItem[] }
  | { type: "horizontalRule" }
  | { type: "pageBreak" }
  | { type: "picture"; attrs: z.infer<typeof pictureAttrs> }
  | { type: "table"; attrs?: { lines?: boolean | undefined } | undefined; content: TableRow[] }
  | { type: "passage"; attrs: { when: When }; content: Block[] }
  | { type: "related"; attrs: { table: string } };

const inlines = z.array(inlineSchema).max(2000).optional();
const blockSchema: z.ZodType<Block> = z.lazy(() => {
  const blocks = z.array(blockSchema).max(500);
  const items = z.array(z.object({ type: z.literal("listItem"), content: blocks })).max(500);
  const cell = z.object({ type: z.enum(["tableCell", "tableHeader"]), content: blocks });
  const rows = z.array(z.object({ type: z.literal("tableRow"), content: z.array(cell).max(20) })).max(200);
  return z.discriminatedUnion("type", [
    z.object({ type: z.literal("paragraph"), attrs: z.object({ align }).optional(), content: inlines }),
    z.object({ type: z.literal("heading"), attrs: z.object({ level: z.number().int().min(1).max(3), align }), content: inlines }),
    z.object({ type: z.literal("bulletList"), content: items }),
    z.object({ type: z.literal("orderedList"), content: items }),
    z.object({ type: z.literal("horizontalRule") }),
    z.object({ type: z.literal("pageBreak") }),
    z.object({ type: z.literal("picture"), attrs: pictureAttrs }),
    z.object({ type: z.literal("table"), attrs: z.object({ lines: z.boolean().optional() }).optional(), content: rows }),
    z.object({ type: z.literal("passage"), attrs: z.object({ when: whenSchema }), content: blocks }),
    z.object({ type: z.literal("related"), attrs: z.object({ table: z.string() }) }),
  ]);
});

export const docSchema = z.object({ type: z.literal("doc"), content: z.array(blockSchema).max(500) });
export type Doc = z.infer<typeof docSchema>;

/** A table of rows that belong to the letter's row: a folio's panel, of which every row is printed. */
export const relatedSchema = panelSchema.omit({ first: true });
export type Related = z.infer<typeof relatedSchema>;

const mm = z.number().min(0).max(100);

export const letterSpecSchema = z.object({
  version: z.literal(1),
  query: z.string(),
  parameters: parameterValuesSchema,
  letterhead: docSchema,
  address: docSchema,
  body: docSchema,
  foot: docSchema,
  tables: z.array(relatedSchema).max(20),
  /** A picture beside the letterhead. */
  picture: z.object({ png: pictureData, widthMm: z.number().min(5).max(120), alt: z.string().max(200) }).nullable(),
  /** Which rows get a letter; unset: every row does. */
  only: whenSchema.optional(),
  page: z.object({
    paper: z.enum(PAPER_NAMES),
    margins: z.object({ top: mm, right: mm, bottom: mm, left: mm }),
    /** The side of the paper the address stands on: where the window of its envelopes is. */
    addressOn: z.enum(["left", "right"]),
    /** The envelope whose window the address stands behind; unset: where the margins have it. */
    window: z.enum(ADDRESS_WINDOW_NAMES).optional(),
    /** Short lines at the edge, by which the paper is folded for the window. */
    foldMarks: z.boolean().optional(),
    numbers: z.enum(["always", "several", "never"]),
  }),
  /** A formula that names each letter's file; empty: the letter's place among them. */
  fileName: z.string().max(4000),
});
export type LetterSpec = z.infer<typeof letterSpecSchema>;

const paragraph = (...content: Inline[]): Block => ({ type: "paragraph", content });
const said = (words: string): Inline => ({ type: "text", text: words });
export const fieldOf = (formula: string, marks?: Marks): Inline => ({ type: "field", attrs: { formula }, ...(marks ? { marks } : {}) });
export const docOf = (...content: Block[]): Doc => ({ type: "doc", content });

/**
 * A letter to begin with over a query.
 * @param address formulas for the lines of the address
 */
export function firstLetter(query: string, sender: string, address: string[], paper: LetterSpec["page"]["paper"] = "A4"): LetterSpec {
  const greeting: Inline[] = address[0] ? [said("Dear "), fieldOf(address[0]), said(",")] : [said("To whom it may concern,")];
  return {
    version: 1,
    query,
    parameters: {},
    letterhead: docOf({ type: "heading", attrs: { level: 1 }, content: [said(sender)] }),
    address: docOf(...(address.length > 0 ? address.map((formula) => paragraph(fieldOf(formula))) : [paragraph()])),
    body: docOf(
      { type: "paragraph", attrs: { align: "right" }, content: [{ type: "field", attrs: { formula: "CURRENT_DATE", format: { date: "long" } } }] },
      paragraph(...greeting),
      paragraph(),
    ),
    foot: docOf(paragraph()),
    tables: [],
    picture: null,
    page: { paper, margins: { top: 18, right: 20, bottom: 16, left: 25 }, addressOn: "left", numbers: "several" },
    fileName: address[0] ?? "",
  };
}
