import PDFDocument from "pdfkit";
import type { Font, Page, PageItem } from "@/core/report/page";
import { ProblemError, problem } from "@/core/types/problem";
import { WholeFile } from "./files";
import { FONTS, fontPath, INK } from "./fonts";
import { PageTagger } from "./tagged";

type Document = PDFKit.PDFDocument;

/** `made`: the moment it says it was made at; with it the same pages are the same bytes. */
type Info = { title: string; lang: string; made?: Date };
/** Adds a document's pages in order. */
type Draw = (doc: Document, addPage: (page: Page) => void) => void;

/** Makes a PDF out of laid-out pages, with the fonts embedded and text as text, giving its bytes as they come. */
function makePdf({ title, lang, made }: Info, draw: Draw, write: (chunk: Buffer) => void): Promise<void> {
  return new Promise<void>((resolve, reject) => {
    const info = { Title: title, Producer: "Next Ledger", Creator: "Next Ledger", ...(made ? { CreationDate: made } : {}) };
    const doc = new PDFDocument({ autoFirstPage: false, pdfVersion: "1.7", lang, displayTitle: true, tagged: true, info });
    let failed: unknown = null;
    doc.on("data", (chunk: Buffer) => {
      try {
        if (failed === null) write(chunk);
      } catch (error) {
        // Thrown on from here it would end the process.
        failed = error;
        reject(error);
      }
    });
    doc.on("error", reject);
    doc.on("end", resolve);
    for (const font of FONTS) doc.registerFont(font, fontPath(font));
    // A font is read when it is first needed: many files of one page each use few of them.
    const read = new Set<Font>();
    const tagger = new PageTagger(doc, (item) => {
      if (item.kind === "text" && !read.has(item.font)) cacheGlyphs(doc, item.font);
      if (item.kind === "text") read.add(item.font);
      drawItem(doc, item);
    });
    // A stream gives nothing before its listeners had their turn: drawn sooner, the whole file would wait in memory.
    setImmediate(() => {
      try {
        draw(doc, (page) => {
          if (failed !== null) throw failed;
          doc.addPage({ size: [page.width, page.height], margin: 0 });
          tagger.page(page);
        });
        tagger.end();
        doc.end();
      } catch (error) {
        reject(error);
      }
    });
  });
}

/** Writes a PDF, whole or not at all. @returns the bytes written */
export async function writePdf(path: string, info: Info, draw: Draw): Promise<number> {
  const file = new WholeFile(path);
  try {
    await makePdf(info, draw, (chunk) => file.write(chunk));
    file.finish();
    return file.bytes;
  } catch (error) {
    file.abandon();
    throw error;
  }
}

/** A PDF that goes into another file. */
export async function pdfBuffer(info: Info, draw: Draw): Promise<Buffer> {
  const chunks: Buffer[] = [];
  await makePdf(info, draw, (chunk) => void chunks.push(chunk));
  return Buffer.concat(chunks);
}

const images = new WeakMap<PDFKit.PDFDocument, Map<string, PDFKit.Mixins.ImageSrc>>();

type Opening = { openImage: (src: Buffer) => PDFKit.Mixins.ImageSrc };

/** @throws ProblemError where a picture is none */
function openImage(doc: Opening, base64: string): PDFKit.Mixins.ImageSrc {
  try {
    return doc.openImage(Buffer.from(base64, "base64"));
  } catch {
    throw new ProblemError([problem("pictureBroken", [])]);
  }
}

/** A picture as a document holds it: once, on however many pages it stands. */
function imageOf(doc: PDFKit.PDFDocument, base64: string): PDFKit.Mixins.ImageSrc {
  const known = images.get(doc) ?? new Map<string, PDFKit.Mixins.ImageSrc>();
  images.set(doc, known);
  const image = known.get(base64) ?? openImage(doc as unknown as Opening, base64);
  known.set(base64, image);
  return image;
}

function drawItem(doc: PDFKit.PDFDocument, item: PageItem): void {
  switch (item.kind) {
    case "rule":
      doc
        .moveTo(item.x, item.y)
        .lineTo(item.x + item.width, item.y)
        .lineWidth(item.weight)
        .stroke(INK.ink);
      break;
    case "picture":
      doc.image(imageOf(doc, item.png), item.x, item.y, { width: item.width, height: item.height });
      break;
    case "text":
      doc.font(item.font, item.size).fillColor(INK[item.tone]).text(item.text, item.x, item.y, { lineBreak: false, baseline: "alphabetic" });
      break;
    default:
      item satisfies never;
  }
}

type Glyph = { id: number; advanceWidth: number; codePoints: number[] };
type Face = { scale: number; font: { glyphForCodePoint: (code: number) => Glyph }; layout: (text: string, features?: unknown, onlyWidth?: boolean) => unknown };

/**
 * Has a font of a document lay out text glyph by glyph, each looked up once. The writer's own layout shapes every
 * text anew (ligatures, kerning), which for a report's many figures takes longer than all the rest; and places were
 * measured glyph by glyph too (fonts.ts), so that page and preview agree.
 */
function cacheGlyphs(doc: PDFKit.PDFDocument, font: string): void {
  const face = (doc.font(font) as unknown as { _font: Face })._font;
  const known = new Map<string, { glyph: Glyph; position: Record<string, number> }>();
  const lookUp = (character: string) => {
    const seen = known.get(character);
    if (seen) return seen;
    const glyph = face.font.glyphForCodePoint(character.codePointAt(0) ?? 32);
    const advance = glyph.advanceWidth * face.scale;
    const made = { glyph, position: { xAdvance: advance, yAdvance: 0, xOffset: 0, yOffset: 0, advanceWidth: advance } };
    known.set(character, made);
    return made;
  };
  face.layout = (text) => {
    const parts = Array.from(text, lookUp);
    return {
      glyphs: parts.map((p) => p.glyph),
      positions: parts.map((p) => p.position),
      advanceWidth: parts.reduce((sum, p) => sum + (p.position.advanceWidth ?? 0), 0),
    };
  };
}
