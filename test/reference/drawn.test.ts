import { createCanvas, loadImage } from "@napi-rs/canvas";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { LIGHT } from "@/core/chart/colours";
import type { ChartAnswer } from "@/core/chart/data";
import { newChart } from "@/core/chart/newChart";
import type { ChartSpec } from "@/core/chart/spec";
import { boxOf } from "@/core/chart/statistics";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import type { Heading, Pivot } from "@/core/pivot/pivot";
import { type Cell, decimal, text, whole } from "@/core/types/valueType";
import { chartPicture } from "@/server/jobs/export/chart";

/* Charts as the server draws them, read back from the picture: what is seen is measured, pixel by pixel. */

const SEED = 20261128;
const locale = { locale: "en-GB", zone: "UTC" };
const heading = (level: number, key: Cell, parent: number, rest: Cell[] | null = null): Heading => ({ level, key, parent, rest, rows: 1 });
const keysOf = (count: number, stem: string): Heading[] => [
  heading(0, null, -1),
  ...Array.from({ length: count }, (_, i) => heading(1, `${stem}${String(i + 1).padStart(2, "0")}`, 0)),
];

/** A pivot of whole numbers: a row of values for each series, one along for each place. */
function pivotOf(series: number[][], rest = false): Pivot {
  const places = series[0]?.length ?? 0;
  const across = keysOf(places, "p");
  if (rest) across[places] = heading(1, null, 0, ["p01"]);
  const split = series.length > 1;
  const rows = split ? [[], ...series] : series;
  return {
    axes: { down: split ? [{ heading: "Split", type: text, format: {} }] : [], across: [{ heading: "Place", type: text, format: {} }] },
    down: split ? keysOf(series.length, "s") : [heading(0, null, -1)],
    across,
    figures: [{ id: "f", heading: "Figure", type: whole, format: {} }],
    cells: [rows.flatMap((row) => [row.reduce((a, b) => a + b, 0), ...(row.length > 0 ? row : new Array(places).fill(0))])],
    proof: { figures: [], wholes: [], rows: { down: 0, across: 0, query: 0 }, empties: [], agrees: true },
  };
}

const spec = (kind: ChartSpec["kind"], more: Partial<ChartSpec> = {}): ChartSpec => ({
  ...newChart({ ...emptyPivot("q"), across: [newAxis("p", { kind: "field", join: "", column: "place" })] }, kind),
  patterns: false,
  ...more,
});
const series = (values: number[][], rest = false): ChartAnswer => ({ shape: "series", pivot: pivotOf(values, rest), earlier: null });

/** The first two splits and places have the first two colours: which one a value has by itself is nothing to what is drawn with it. */
const CHOSEN = { '"s01"': 0, '"s02"': 1, '"p01"': 0, '"p02"': 1 };

type Picture = { width: number; height: number; data: Uint8ClampedArray };
async function drawn(of: ChartSpec, answer: ChartAnswer, size = { width: 800, height: 500 }): Promise<Picture> {
  const image = await loadImage(chartPicture({ spec: of, locale }, answer, CHOSEN, size));
  const context = createCanvas(image.width, image.height).getContext("2d");
  context.drawImage(image, 0, 0);
  return { width: image.width, height: image.height, data: context.getImageData(0, 0, image.width, image.height).data };
}
const isColour = ({ width, data }: Picture, x: number, y: number, hex: string): boolean =>
  [1, 3, 5].every((at, i) => Math.abs((data[(y * width + x) * 4 + i] ?? 0) - Number.parseInt(hex.slice(at, at + 2), 16)) <= 2);
function pixels(picture: Picture, hex: string): { x: number; y: number }[] {
  const found: { x: number; y: number }[] = [];
  for (let y = 0; y < picture.height; y++) for (let x = 0; x < picture.width; x++) if (isColour(picture, x, y, hex)) found.push({ x, y });
  return found;
}
/** Runs of columns of the picture that hold a colour, each with how many pixels of it stand above each other. */
function columnsOf(picture: Picture, hex: string): { x: number; height: number }[] {
  const heights = new Map<number, number>();
  for (const { x } of pixels(picture, hex)) heights.set(x, (heights.get(x) ?? 0) + 1);
  const bars: { x: number; height: number }[] = [];
  let last = -2;
  for (const [x, height] of [...heights].sort((a, b) => a[0] - b[0])) {
    const bar = bars.at(-1);
    if (x === last + 1 && bar) bar.height = Math.max(bar.height, height);
    else bars.push({ x, height });
    last = x;
  }
  return bars;
}
const [first = "", second = ""] = LIGHT.series;
/** Only what is as wide as a bar: what type and edges leave of a colour is a few pixels high. */
const tall = (bars: { x: number; height: number }[]) => bars.filter((b) => b.height > 8).map((b) => b.height);

describe("a picture", () => {
  it("has bars as high as their values, to a pixel and a half", async () => {
    const amount = fc.integer({ min: 200, max: 1000 });
    await fc.assert(
      fc.asyncProperty(fc.array(amount, { minLength: 2, maxLength: 6 }), async (values) => {
        const heights = tall(columnsOf(await drawn(spec("bars"), series([values])), first));
        expect(heights).toHaveLength(values.length);
        const unit = Math.max(...heights) / Math.max(...values);
        for (const [i, height] of heights.entries()) expect(Math.abs(height - (values[i] ?? 0) * unit)).toBeLessThan(2.5);
      }),
      { numRuns: 12, seed: SEED },
    );
  });

  it("stacks what is split, each part as high as its value, and bars of 100% all to the same height", async () => {
    const values = [
      [300, 600],
      [600, 300],
    ];
    const stacked = await drawn(spec("stacked"), series(values));
    const [low, high] = [tall(columnsOf(stacked, first)), tall(columnsOf(stacked, second))];
    expect([low.length, high.length]).toEqual([2, 2]);
    const lefts = [first, second].map((hex) =>
      columnsOf(stacked, hex)
        .filter((b) => b.height > 8)
        .map((b) => b.x),
    );
    for (const [i, left] of (lefts[0] ?? []).entries()) expect(Math.abs(left - (lefts[1]?.[i] ?? 0)), "above each other").toBeLessThan(3);
    for (const [i, height] of low.entries()) expect(Math.abs(height / (high[i] ?? 1) - (values[0]?.[i] ?? 0) / (values[1]?.[i] ?? 1))).toBeLessThan(0.06);
    const shares = [300, 100, 600, 900].map((v) => v * 1000);
    const all = pivotOf([shares.slice(0, 2), shares.slice(2)]);
    const whole100 = { ...all, cells: [all.cells[0]?.map((_, i) => [0, 0, 0, 0, 0.25, 0.1, 0, 0.75, 0.9][i] ?? 0) ?? []] };
    const hundred = await drawn(spec("hundred"), {
      shape: "series",
      pivot: { ...whole100, figures: [{ ...all.figures[0], format: { percent: true } } as never] },
      earlier: null,
    });
    const [a, b] = [tall(columnsOf(hundred, first)), tall(columnsOf(hundred, second))];
    const sums = a.map((height, i) => height + (b[i] ?? 0));
    expect(Math.abs((sums[0] ?? 0) - (sums[1] ?? 1))).toBeLessThan(3);
    expect((a[0] ?? 0) / (sums[0] ?? 1)).toBeCloseTo(0.25, 1);
  });

  it("gives the parts of a pie the area of their share, and the rest of a first n its own colour", async () => {
    const parts: ChartAnswer = { shape: "parts", pivot: pivotOf([[700, 200, 100]], true), earlier: null };
    const picture = await drawn(spec("pie"), parts);
    // The legend's swatches are of the same colours, and small.
    const areas = [first, second, LIGHT.rest].map((hex) => pixels(picture, hex).length);
    const sum = areas.reduce((x, y) => x + y);
    for (const [i, share] of [0.7, 0.2, 0.1].entries()) expect(Math.abs((areas[i] ?? 0) / sum - share)).toBeLessThan(0.02);
  });

  it("draws the farthest value beyond a box's whiskers, however many lie there", async () => {
    const values = [...Array.from({ length: 3000 }, (_, i) => 40 + (i % 21)), ...Array.from({ length: 900 }, (_, i) => 200 + (i % 100)), 900];
    const box = boxOf(values);
    if (!box) throw new Error("no box");
    expect(box.outliers.length).toBeGreaterThan(500);
    const answer: ChartAnswer = {
      shape: "values",
      boxes: [{ key: "a", box }],
      type: decimal(0),
      heading: "n",
      group: { heading: "Group", type: text, format: {} },
    };
    const dark = pixels(await drawn(spec("box"), answer), "#1d2930");
    const top = Math.min(...dark.map((p) => p.y));
    const next = Math.min(...dark.filter((p) => p.y > top + 12).map((p) => p.y));
    // Alone at the top, a circle of 4 pixels; the next ones lie at less than 300 of 900.
    expect(next - top).toBeGreaterThan(200);
    expect(top).toBeLessThan(60);
  });

  it("runs a line through its values and leaves a gap where one is empty", async () => {
    const pivot = pivotOf([[100, 500, 0, 500, 100]]);
    const gap: Pivot = { ...pivot, cells: [pivot.cells[0]?.map((cell, i) => (i === 3 ? null : cell)) ?? []] };
    const columns = new Set(pixels(await drawn(spec("lines"), { shape: "series", pivot: gap, earlier: null }), first).map((p) => p.x));
    const whole = new Set(pixels(await drawn(spec("lines"), series([[100, 500, 300, 500, 100]])), first).map((p) => p.x));
    const [from, to] = [Math.min(...whole), Math.max(...whole)];
    const empty = (of: Set<number>) => Array.from({ length: to - from + 1 }, (_, i) => from + i).filter((x) => !of.has(x)).length;
    expect(empty(whole)).toBe(0);
    // From the second place to the fourth is half of the way.
    expect(empty(columns) / (to - from)).toBeCloseTo(0.5, 1);
  });
});
