import { TEXTS } from "./choices";
import type { Block, Doc, Inline, LetterSpec, When } from "./spec";

/** Every block of a document, those inside others after them. */
export function* blocksOf(blocks: Block[]): Generator<Block> {
  for (const block of blocks) {
    yield block;
    if (block.type === "passage") yield* blocksOf(block.content);
    if (block.type === "bulletList" || block.type === "orderedList") for (const item of block.content) yield* blocksOf(item.content);
    if (block.type === "table") for (const row of block.content) for (const cell of row.content) yield* blocksOf(cell.content);
  }
}

const inlinesOf = (block: Block): Inline[] => (block.type === "paragraph" || block.type === "heading" ? (block.content ?? []) : []);

/** The fields of a document, in the order they stand. */
const fieldsOf = (doc: Doc) => [...blocksOf(doc.content)].flatMap(inlinesOf).flatMap((i) => (i.type === "field" ? [i] : []));

/** The different formulas of a letter's fields, in the order they first stand. */
export const formulasOf = (spec: LetterSpec): string[] => [...new Set(TEXTS.flatMap((name) => fieldsOf(spec[name]).map((f) => f.attrs.formula)))];

/** The condition under which a row gets a letter, and those of its passages in the order they stand. */
export const whensOf = (spec: LetterSpec): When[] => [
  ...(spec.only ? [spec.only] : []),
  ...TEXTS.flatMap((name) => [...blocksOf(spec[name].content)].flatMap((b) => (b.type === "passage" ? [b.attrs.when] : []))),
];

/** The tables of related rows that stand in a letter's texts. */
export function tablesOf(spec: LetterSpec): Set<string> {
  const named = TEXTS.flatMap((name) => [...blocksOf(spec[name].content)].flatMap((b) => (b.type === "related" ? [b.attrs.table] : [])));
  return new Set([...named, ...whensOf(spec).flatMap((w) => (w.kind === "rows" ? [w.table] : []))]);
}
