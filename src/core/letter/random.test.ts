import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Metrics, Page } from "../report/page";
import type { FilledBlock, FilledLetter, Run } from "./fill";
import { layOutLetter } from "./layOut";
import { firstLetter } from "./spec";
import { wrapRuns } from "./wrap";

/* Letters made at random: whatever is in one, all of it is printed, in order, inside the margins. */

const SEED = 20261123;
const metrics: Metrics = { width: (text, font, size) => text.length * size * (font.endsWith("Bold") ? 0.55 : 0.5) };
const fonts = ["sans", "sansBold", "sansItalic", "sansBoldItalic"] as const;
const wordArbitrary = fc.string({ unit: fc.constantFrom(..."abcdefghij".split("")), minLength: 1, maxLength: 24 });
const runArbitrary: fc.Arbitrary<Run> = fc.record({
  text: fc.array(wordArbitrary, { minLength: 1, maxLength: 30 }).map((words) => words.join(" ")),
  font: fc.constantFrom(...fonts),
  tone: fc.constant("ink" as const),
});
const wordsIn = (text: string) => text.split(/\s+/).filter(Boolean);

describe("breaking words into lines, at random", () => {
  it("keeps every character in order, and every line within its width", () => {
    fc.assert(
      fc.property(fc.array(runArbitrary, { maxLength: 5 }), fc.integer({ min: 20, max: 400 }), (runs, width) => {
        const lines = wrapRuns(runs, width, metrics, 10);
        const said = lines.map((l) => l.pieces.map((p) => p.text).join(""));
        expect(said.join("").replaceAll(" ", "")).toBe(
          runs
            .map((r) => r.text)
            .join("")
            .replaceAll(" ", ""),
        );
        for (const [i, line] of lines.entries()) {
          const drawn = line.pieces.reduce((sum, p) => sum + metrics.width(p.text, p.font, 10), 0);
          expect(drawn).toBeCloseTo(line.width, 6);
          expect(line.width).toBeLessThanOrEqual(Math.max(width, 6) + 1e-9);
          expect(said[i]).toBe(said[i]?.trim());
        }
      }),
      { numRuns: 300, seed: SEED },
    );
  });
});

const words = (style: "body" | "heading2", runs: Run[]): FilledBlock => ({ kind: "words", style, runs, align: "left", indent: 0, marker: "" });
const tableArbitrary = fc.tuple(fc.integer({ min: 0, max: 70 }), wordArbitrary, fc.boolean()).map(
  ([rows, title, footed]): FilledBlock => ({
    kind: "table",
    table: {
      title,
      columns: [
        { heading: "Mark", right: false },
        { heading: "Sum", right: true },
      ],
      rows: Array.from({ length: rows }, (_, i) => [
        { text: `row${i}`, negative: false },
        { text: String(i), negative: false },
      ]),
      footing: footed
        ? [
            { text: "", negative: false },
            { text: "total", negative: false },
          ]
        : null,
    },
  }),
);
/** Cells of words that are told apart, some of them higher than a page. */
const typedArbitrary = fc
  .record({
    headings: fc.integer({ min: 0, max: 1 }),
    lines: fc.boolean(),
    sizes: fc.array(fc.tuple(fc.integer({ min: 0, max: 12 }), fc.oneof({ weight: 9, arbitrary: fc.integer({ min: 0, max: 60 }) }, fc.constant(2500))), {
      minLength: 1,
      maxLength: 25,
    }),
  })
  .map(({ headings, lines, sizes }): FilledBlock => {
    const cell = (row: number, column: number, count: number) => [
      {
        runs: [{ text: Array.from({ length: count }, (_, i) => `c${row}.${column}.${i}`).join(" "), font: "sans" as const, tone: "ink" as const }],
        align: "left" as const,
      },
    ];
    const body = sizes.map(([a, b], row) => [cell(row, 0, a), cell(row, 1, b)]);
    const head = ["Mark", "Sum"].map((text) => [{ runs: [{ text, font: "sansBold" as const, tone: "ink" as const }], align: "left" as const }]);
    return { kind: "typed", table: { headings, lines, rows: headings > 0 ? [head, ...body] : body } };
  });
/** A header that says 400 × 300 pixels. */
const PICTURE = Buffer.from("89504e470d0a1a0a0000000d49484452000001900000012c", "hex").toString("base64");
const bodyArbitrary: fc.Arbitrary<FilledBlock[]> = fc.array(
  fc.oneof(
    fc.array(runArbitrary, { minLength: 1, maxLength: 3 }).map((runs) => words("body", runs)),
    runArbitrary.map((run) => words("heading2", [{ ...run, font: "serifBold" }])),
    tableArbitrary,
    fc.constant({ kind: "rule" } as FilledBlock),
    fc.constant({ kind: "break" } as FilledBlock),
  ),
  { maxLength: 10 },
);
const textsOf = (page: Page) => page.items.flatMap((i) => (i.kind === "text" ? [i] : []));

describe("letters laid out at random", () => {
  const spec = firstLetter("q", "Us", []);
  const margins = { left: (25 * 72) / 25.4, right: (20 * 72) / 25.4, top: (18 * 72) / 25.4, bottom: (16 * 72) / 25.4 };
  const lay = (body: FilledBlock[]) => {
    const letter: FilledLetter = {
      letterhead: [words("body", [{ text: "Head", font: "sans", tone: "ink" }])],
      address: [],
      body,
      foot: [words("body", [{ text: "Foot", font: "sans", tone: "ink" }])],
    };
    return layOutLetter(spec, letter, metrics);
  };
  it("print all that is in them, in order, inside the margins, with each row of a table once", () => {
    fc.assert(
      fc.property(bodyArbitrary, (body) => {
        const pages = lay(body);
        for (const page of pages)
          for (const item of textsOf(page)) {
            expect(item.x).toBeGreaterThanOrEqual(margins.left - 1e-6);
            expect(item.x + metrics.width(item.text, item.font, item.size)).toBeLessThanOrEqual(page.width - margins.right + 0.6);
            expect(item.y).toBeGreaterThanOrEqual(margins.top);
            expect(item.y).toBeLessThanOrEqual(page.height - margins.bottom + 1e-6);
          }
        const printed = pages.flatMap((p) => textsOf(p).filter((t) => !/^(Foot|Head|Mark|Sum|page \d+ of \d+)$/.test(t.text)));
        const tables = body.flatMap((b) => (b.kind === "table" ? [b.table] : []));
        expect(printed.filter((t) => /^row\d+$/.test(t.text)).map((t) => t.text)).toEqual(tables.flatMap((t) => t.rows.map((r) => r[0]?.text)));
        expect(printed.filter((t) => t.text === "total")).toHaveLength(tables.filter((t) => t.footing).length);
        const inWords = body.flatMap((b) => (b.kind === "words" ? b.runs.map((r) => r.text) : b.kind === "table" ? [b.table.title] : []));
        const said = printed.filter((t) => !/^(row\d+|\d+|total|none)$/.test(t.text)).map((t) => t.text);
        expect(said.join("").replaceAll(" ", "")).toBe(inWords.flatMap(wordsIn).join(""));
      }),
      { numRuns: 200, seed: SEED },
    );
  });
  it("print typed tables whole, row after row, with their headings on each page, and pictures in their own proportions", () => {
    const block = fc.oneof(
      typedArbitrary,
      runArbitrary.map((run) => words("body", [run])),
      fc
        .record({ widthMm: fc.integer({ min: 5, max: 200 }), align: fc.constantFrom("left", "center", "right") })
        .map((p): FilledBlock => ({ kind: "picture", data: PICTURE, alt: "", ...p }) as FilledBlock),
    );
    fc.assert(
      fc.property(fc.array(block, { minLength: 1, maxLength: 4 }), (body) => {
        const pages = lay(body);
        const cells: Record<string, string[]> = {};
        for (const page of pages) {
          for (const item of page.items) {
            if (item.kind === "text") {
              expect(item.y).toBeLessThanOrEqual(page.height - margins.bottom + 1e-6);
              expect(item.x + metrics.width(item.text, item.font, item.size)).toBeLessThanOrEqual(page.width - margins.right + 0.6);
              for (const word of wordsIn(item.text)) {
                const column = /^c\d+\.(\d)/.exec(word)?.[1];
                if (column) cells[column] = [...(cells[column] ?? []), word];
              }
            }
            if (item.kind === "picture") {
              expect(item.width / item.height).toBeCloseTo(4 / 3, 6);
              expect([item.x >= margins.left - 1e-6, item.x + item.width <= page.width - margins.right + 1e-6]).toEqual([true, true]);
              expect([item.y >= margins.top, item.y + item.height <= page.height - margins.bottom]).toEqual([true, true]);
            }
          }
        }
        expect(pages.flatMap((p) => p.items).filter((i) => i.kind === "picture")).toHaveLength(body.filter((b) => b.kind === "picture").length);
        const typed = body.flatMap((b) => (b.kind === "typed" ? [b.table] : []));
        for (const column of [0, 1]) {
          const wanted = typed.flatMap((t) =>
            t.rows.slice(t.headings).flatMap((row) => (row[column] ?? []).flatMap(({ runs }) => runs.flatMap((r) => wordsIn(r.text)))),
          );
          expect(cells[String(column)] ?? []).toEqual(wanted);
        }
        // Headings do not end a page that the table goes on from.
        for (const page of pages.slice(0, -1)) {
          const last = textsOf(page).filter((t) => !/^(Foot|Head|page \d+ of \d+)$/.test(t.text));
          expect(String(last.at(-1)?.text)).not.toMatch(/^(Mark|Sum)$/);
        }
        // On a page that only holds a table going on, its heading stands first.
        const [only] = typed;
        if (body.length === 1 && only && only.headings > 0)
          for (const page of pages.slice(1)) expect(textsOf(page).filter((t) => !/^(Foot|Head)$/.test(t.text))[0]?.text).toBe("Mark");
      }),
      { numRuns: 300, seed: SEED + 2 },
    );
  });
  it("never end a page with a heading that something follows, nor leave a table's heading or footing alone", () => {
    fc.assert(
      fc.property(bodyArbitrary, (body) => {
        const pages = lay(body.filter((b) => b.kind !== "break"));
        for (const [n, page] of pages.entries()) {
          const texts = textsOf(page).filter((t) => !/^(Foot|page \d+ of \d+)$/.test(t.text));
          const last = texts.at(-1);
          if (n < pages.length - 1) {
            expect(last?.font, last?.text).not.toBe("serifBold");
            expect(last?.text).not.toBe("Sum");
          }
          const total = texts.findIndex((t) => t.text === "total");
          const rows = texts.slice(0, total).some((t) => /^row\d+$/.test(t.text) || t.text === "none");
          if (total >= 0) expect(rows).toBe(true);
        }
      }),
      { numRuns: 200, seed: SEED + 1 },
    );
  });
});
