import { bin, extent, quantileSorted, tickStep } from "d3-array";
import fc from "fast-check";
import { linearRegression, mean } from "simple-statistics";
import { describe, expect, it } from "vitest";
import { emptyPivot, newAxis } from "../pivot/empty";
import type { Heading, Pivot } from "../pivot/pivot";
import { type Cell, date, decimal, text } from "../types/valueType";
import { CHART_KINDS, type ChartKind } from "./choices";
import { coloursFor, contrast, DARK, LIGHT } from "./colours";
import { drawChart } from "./config";
import { type ChartAnswer, markWords, seriesOf } from "./data";
import { suitedKinds } from "./kinds";
import { newChart } from "./newChart";
import { daysEarlier } from "./plan";
import type { ChartSpec } from "./spec";
import { boxOf, meanOf, niceWidth, quantile, trendOf } from "./statistics";
import { dashOf, fitsIn, signOf } from "./style";

const locale = { locale: "en-GB", zone: "UTC" };
const numbers = fc.array(fc.integer({ min: -100_000, max: 100_000 }), { minLength: 1, maxLength: 80 });
const close = (a: number | null, b: number) => expect(a).toBeCloseTo(b, 6);

describe("figures of charts against d3-array and simple-statistics", () => {
  it("quantiles, means and trends are theirs", () => {
    fc.assert(
      fc.property(numbers, fc.double({ min: 0, max: 1, noNaN: true }), (values, share) => {
        const sorted = [...values].sort((a, b) => a - b);
        close(quantile(sorted, share), quantileSorted(sorted, share) as number);
        close(meanOf(values), mean(values));
        const points = values.map((v, i): [number, number] => [i, v]);
        const line = trendOf(points);
        if (values.length < 2) return void expect(line).toBe(null);
        const theirs = linearRegression(points);
        close(line?.slope ?? null, theirs.m);
        close((line?.intercept ?? 0) / 1e3, theirs.b / 1e3);
      }),
    );
  });
  it("boxes hold their quarters and all that lies beyond the whiskers", () => {
    fc.assert(
      fc.property(numbers, (values) => {
        const box = boxOf(values);
        const sorted = [...values].sort((a, b) => a - b);
        close(box?.q1 ?? null, quantileSorted(sorted, 0.25) as number);
        close(box?.q3 ?? null, quantileSorted(sorted, 0.75) as number);
        expect(sorted.filter((v) => v < (box?.low ?? 0) || v > (box?.high ?? 0))).toEqual(box?.outliers);
      }),
    );
    expect(boxOf([])).toBe(null);
  });
  it("the width of bands is theirs, and bands of it hold what theirs do", () => {
    fc.assert(
      fc.property(numbers, (values) => {
        const [least = 0, greatest = 0] = extent(values);
        fc.pre(greatest > least);
        const [factor, power] = niceWidth(least, greatest, 20);
        const width = factor * 10 ** power;
        close(width, tickStep(least, greatest, 20));
        const start = Math.floor(least / width) * width;
        const edges = Array.from({ length: Math.ceil((greatest - start) / width) }, (_, i) => start + (i + 1) * width);
        const theirs = bin()
          .domain([start, greatest + width])
          .thresholds(edges)(values)
          .map((b) => b.length);
        const ours = new Map<number, number>();
        for (const v of values) ours.set(Math.floor(v / width), (ours.get(Math.floor(v / width)) ?? 0) + 1);
        expect([...ours.values()].reduce((a, b) => a + b)).toBe(theirs.reduce((a, b) => a + b));
      }),
    );
    expect(niceWidth(5, 5, 20)).toEqual([1, 0]);
  });
});

describe("an earlier time", () => {
  it("is counted by the calendar; a month too short ends on its last day", () => {
    expect(daysEarlier("2028-02-29", "year")).toBe("2027-02-28");
    expect(daysEarlier("2026-05-31", "quarter")).toBe("2026-02-28");
    expect(daysEarlier("2026-01-01", "month")).toBe("2025-12-01");
    expect(daysEarlier("2026-09-30", "month")).toBe("2026-08-31");
    expect(daysEarlier("2026-03-30", "month")).toBe("2026-02-28");
    expect(daysEarlier("2026-03-02", "isoWeek")).toBe("2026-02-23");
    expect(daysEarlier("2026-03-01", "day")).toBe("2026-02-28");
  });
});

describe("colours", () => {
  it("stand out from paper, sheet and white by 3 to 1, what is written by 4.5 to 1 (WCAG 2.2, 1.4.11 and 1.4.3)", () => {
    for (const [theme, grounds] of [
      [LIGHT, [LIGHT.paper, "#fffdf8", "#ffffff"]],
      [DARK, [DARK.paper, "#1b2225", "#0f1416"]],
    ] as const) {
      for (const colour of theme.series) for (const ground of grounds) expect(contrast(colour, ground)).toBeGreaterThanOrEqual(3);
      for (const words of [theme.soft, theme.ink, theme.vermilion, theme.ochre]) expect(contrast(words, theme.paper)).toBeGreaterThanOrEqual(4.5);
    }
    // The two ends of the scale, by definition.
    expect(contrast("#000000", "#ffffff")).toBeCloseTo(21, 5);
  });
  it("chosen for a value are kept; the others take what is left; the rest is always stone", () => {
    const colours = coloursFor(['"a"', '"b"', "rest", '"c"'], { '"b"': 0 }, LIGHT);
    expect(colours.get('"b"')).toBe(LIGHT.series[0]);
    expect(new Set(colours.values()).size).toBe(4);
    expect(colours.get("rest")).toBe(LIGHT.series.at(-1));
  });
  it("follow from the values, not from their order: two charts of the same values agree", () => {
    const trades = ["Building", "Stores", "Timber", "Growers", "Islands"].map((t) => JSON.stringify(t));
    fc.assert(
      fc.property(fc.uniqueArray(fc.string(), { minLength: 1, maxLength: 9 }), (values) => {
        const keys = values.map((v) => JSON.stringify(v));
        const [one, other] = [coloursFor(keys, {}, LIGHT), coloursFor([...keys].reverse(), {}, LIGHT)];
        for (const key of keys) expect(other.get(key)).toBe(one.get(key));
        expect(new Set(one.values()).size).toBe(Math.min(keys.length, LIGHT.series.length));
      }),
    );
    const five = coloursFor(trades, {}, LIGHT);
    // Alone, a value has the colour it has among others that do not contend for it.
    expect(trades.filter((t) => coloursFor([t], {}, LIGHT).get(t) === five.get(t)).length).toBeGreaterThanOrEqual(3);
    expect(trades.map((t) => DARK.series.indexOf(coloursFor(trades, {}, DARK).get(t) ?? ""))).toEqual(
      trades.map((t) => LIGHT.series.indexOf(five.get(t) ?? "")),
    );
  });
  it("of a series without a value come in order, beside those of values", () => {
    expect([...coloursFor(["figure 0", "figure 1"], {}, LIGHT).values()]).toEqual(LIGHT.series.slice(0, 2));
    expect(coloursFor([""], {}, LIGHT).get("")).toBe(LIGHT.series[0]);
    const withRest = coloursFor(["rest", ...Array.from({ length: 6 }, (_, i) => String(i))], {}, LIGHT);
    expect([...withRest.values()].filter((c) => c === LIGHT.rest)).toHaveLength(1);
    expect(coloursFor(['"a"', '"b"'], { '"a"': 9, '"b"': 2 }, LIGHT).get('"a"')).toBe(LIGHT.series[2]);
  });
});

const heading = (level: number, key: Cell, parent: number): Heading => ({ level, key, parent, rest: null, rows: 1 });
const months = ["2026-01-01", "2026-02-01", "2026-03-01"];
const pivotOf = (values: (number | null)[], keys = months): Pivot => ({
  axes: { down: [], across: [{ heading: "Lodged", type: date, format: { date: "month" } }] },
  down: [heading(0, null, -1)],
  across: [heading(0, null, -1), ...keys.map((k) => heading(1, k, 0))],
  figures: [{ id: "f", heading: "Freight", type: decimal(2), format: {}, unit: "EUR" }],
  cells: [[null, ...values]],
  proof: { figures: [], wholes: [], rows: { down: 0, across: 0, query: 0 }, empties: [], agrees: true },
});
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const spec = (kind: ChartKind, more: Partial<ChartSpec> = {}): ChartSpec => ({
  ...newChart(
    {
      ...emptyPivot("q"),
      across: [newAxis("m", { ...field("lodged"), part: "month" })],
      figures: [{ id: "f", value: field("freight"), figure: "total", showAs: "asIs" }],
    },
    kind,
  ),
  ...more,
});
const drawing = { locale, theme: LIGHT, chosen: {}, pattern: (colour: string) => colour, size: 12, compact: false, narrow: false, animate: false };
const noticeFor = (kind: ChartKind, values: (number | null)[]) =>
  drawChart(spec(kind), { shape: kind === "pie" ? "parts" : "series", pivot: pivotOf(values, months.slice(0, values.length)), earlier: null }, drawing).notice;

describe("what cannot be drawn", () => {
  it("is said: no rows, all empty, mixed signs in a pie, negative shares", () => {
    expect(noticeFor("bars", [])).toMatch(/No rows meet/);
    expect(noticeFor("lines", [null, null, null])).toMatch(/All values are empty/);
    expect(noticeFor("pie", [100, -50, 20])).toMatch(/cannot be parts/);
    expect(noticeFor("pie", [0, 0, 0])).toMatch(/no whole/);
    expect(noticeFor("hundred", [100, -50, 20])).toMatch(/negative/);
    expect(noticeFor("bars", [-100, -50, -20])).toBe(null);
    expect(noticeFor("bars", [100])).toBe(null);
  });
  it("leaves a pie without its parts rather than drawing wrong ones", () => {
    const { config } = drawChart(spec("pie"), { shape: "parts", pivot: pivotOf([1, -1, 2]), earlier: null }, drawing);
    expect(config.data.datasets[0]?.data).toEqual([]);
  });
  it("every kind draws from one row, and from none", () => {
    for (const kind of CHART_KINDS)
      for (const values of [[5], []]) {
        const series: ChartAnswer = { shape: "series", pivot: pivotOf(values, months.slice(0, values.length)), earlier: null };
        const points: ChartAnswer = {
          shape: "points",
          points: values.map((v) => [v, v, v]),
          columns: [1, 2, 3].map(() => ({ heading: "n", type: decimal(2), format: {} })),
          size: kind === "bubbles",
          group: false,
          name: false,
        };
        const boxes: ChartAnswer = {
          shape: "values",
          boxes: values.flatMap((v) => boxOf([v]) ?? []).map((box) => ({ key: null, box })),
          type: decimal(2),
          heading: "n",
          group: null,
        };
        const answer = kind === "points" || kind === "bubbles" ? points : kind === "box" ? boxes : series;
        expect(drawChart(spec(kind), answer, drawing).config.data.datasets.length).toBeGreaterThanOrEqual(
          values.length === 0 && answer.shape === "points" ? 0 : 1,
        );
      }
  });
});

describe("a chart in little room", () => {
  const options = (kind: ChartKind, values: (number | null)[], keys: string[], room: { width: number; height: number }) => {
    const answer: ChartAnswer = { shape: kind === "pie" ? "parts" : "series", pivot: pivotOf(values, keys), earlier: null };
    const { config } = drawChart(spec(kind, { mean: true }), answer, { ...drawing, ...fitsIn(room, drawing.size) });
    return config as unknown as {
      data: { labels: string[]; datasets: { borderWidth: number }[] };
      options: { plugins: { legend: { display: boolean } }; scales: { y: { title: { display: boolean } } } };
    };
  };
  it("gives its height to the plot, and keeps its legend where there is room for both", () => {
    const low = options("bars", [1, 2, 3], months, { width: 600, height: 170 });
    expect([low.options.plugins.legend.display, low.options.scales.y.title.display]).toEqual([false, false]);
    const high = options("bars", [1, 2, 3], months, { width: 600, height: 200 });
    expect([high.options.plugins.legend.display, high.options.scales.y.title.display]).toEqual([true, true]);
  });
  it("names the parts of a pie without amounts where they would be cut off", () => {
    expect(options("pie", [100, 300], months.slice(0, 2), { width: 300, height: 300 }).data.labels).toEqual(["Jan 2026  25%", "Feb 2026  75%"]);
    expect(options("pie", [100, 300], months.slice(0, 2), { width: 400, height: 300 }).data.labels[0]).toBe("Jan 2026  1.00  25%");
  });
  it("leaves thin bars their colour: no edge around more than sixty", () => {
    const days = (n: number) => Array.from({ length: n }, (_, i) => `2026-01-${i}`);
    const edge = (n: number) =>
      options(
        "stacked",
        days(n).map(() => 1),
        days(n),
        { width: 800, height: 400 },
      ).data.datasets[0]?.borderWidth;
    expect([edge(60), edge(61)]).toEqual([0.5, 0]);
  });
});

describe("the line that marks stand on", () => {
  const lines = (values: (number | null)[]) => {
    const { config } = drawChart(spec("bars"), { shape: "series", pivot: pivotOf(values, months), earlier: null }, drawing);
    const { x, y } = (config as unknown as { options: { scales: Lines } }).options.scales;
    return { bottom: x.border.display, nought: y.grid.color({ tick: { value: 0 } }), other: y.grid.color({ tick: { value: 100 } }) };
  };
  type Lines = { x: { border: { display: boolean } }; y: { grid: { color: (at: { tick?: { value: number } }) => string } } };
  it("is the bottom of the plot, or the line at nought where some go below it", () => {
    expect(lines([1, 2, null])).toEqual({ bottom: true, nought: LIGHT.hairline, other: LIGHT.hairline });
    expect(lines([1, -2, 3])).toEqual({ bottom: false, nought: LIGHT.ink, other: LIGHT.hairline });
  });
});

describe("series", () => {
  it("put an earlier time where it would stand now, and say a mark in words", () => {
    const earlier = pivotOf([100, 300], ["2025-01-01", "2025-03-01"]);
    const data = seriesOf(
      spec("lines", { earlier: "year", trend: true, mean: true, target: { value: "12.50", words: "plan" } }),
      pivotOf([1000, 2000, null]),
      earlier,
      locale,
    );
    expect(data.series.map((s) => s.values)).toEqual([
      [10, 20, null],
      [1, null, 3],
    ]);
    expect(markWords(data, 0, 1, locale)).toBe("Feb 2026, Freight: 20.00");
    expect(markWords(data, 0, 2, locale)).toBe("Mar 2026, Freight: nothing");
    expect(data.mean).toBe(15);
    expect(data.trend).toEqual({ from: 10, to: 30 });
    expect(data.target).toEqual({ value: 12.5, words: "plan" });
  });
});

describe("what tells series apart", () => {
  const looks = (of: (nth: number) => unknown) =>
    new Set(Array.from({ length: 49 }, (_, nth) => `${LIGHT.series[nth % LIGHT.series.length]} ${JSON.stringify(of(nth))}`)).size;
  it("is not colour alone: of 49 no two have both colour and sign, or colour and stroke, alike", () => {
    expect([looks(signOf), looks(dashOf)]).toEqual([49, 49]);
  });
  it("stands in the legend in the order of the series, lines across last", () => {
    const { config } = drawChart(spec("lines", { mean: true }), { shape: "series", pivot: pivotOf([1, 2, 3]), earlier: null }, drawing);
    const { sort } = config.options?.plugins?.legend?.labels ?? {};
    const items = [2, 0, 1].map((datasetIndex) => ({ text: String(datasetIndex), datasetIndex }));
    expect(sort && [...items].sort((a, b) => sort(a, b, config.data)).map((i) => i.datasetIndex)).toEqual([0, 1, 2]);
    expect(config.data.datasets.at(-1)?.label).toBe("mean");
  });
});

describe("suggested kinds", () => {
  const heights = [{ adds: true, numeric: true }];
  it("follow from the types", () => {
    expect(suitedKinds({ along: date, dated: true, split: false, heights })[0]).toBe("lines");
    expect(suitedKinds({ along: text, dated: false, split: false, heights })[0]).toBe("bars");
    expect(suitedKinds({ along: text, dated: false, split: true, heights })[0]).toBe("stacked");
    expect(suitedKinds({ along: text, dated: false, split: true, heights: [{ adds: false, numeric: true }] })).not.toContain("stacked");
    expect(suitedKinds({ along: null, dated: false, split: false, heights: [...heights, ...heights] })[0]).toBe("points");
  });
});
