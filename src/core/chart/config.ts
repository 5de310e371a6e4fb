import type { ChartConfiguration, ChartDataset, Plugin } from "chart.js";
import type { Heading } from "../pivot/pivot";
import { cellWriter } from "../types/format";
import { withUnit } from "../types/unit";
import { coloursFor } from "./colours";
import { type ChartAnswer, type ChartData, colourKey, markWords, seriesOf } from "./data";
import { drawBoxes } from "./drawBoxes";
import { drawPoints } from "./drawPoints";
import { CHARTS } from "./kinds";
import { leftOutOf } from "./plan";
import type { ChartSpec } from "./spec";
import { type Drawing, type Drawn, dashOf, font, rule, shared, signOf, tickWriter } from "./style";

/*
 * A chart as the drawing library takes it (Chart.js), the same in the browser and on the server. Numbers here are for
 * drawing; what is written is written from the exact cells.
 */

/** As many bars that lie are all named, where there is height. */
const MOST_NAMED_BARS = 25;
/** With more bars than this none has an edge. */
const MOST_EDGED_BARS = 60;
/** More marks than this are not labelled: their labels would lie on each other. */
const MOST_LABELS = 80;

/** Makes the configuration of a chart, and the data its table and its spoken marks are made of. */
export function drawChart(spec: ChartSpec, answer: ChartAnswer, drawing: Drawing): Drawn {
  if (answer.shape === "points") return drawPoints(spec, answer, drawing);
  if (answer.shape === "values") return drawBoxes(answer, drawing);
  const data = seriesOf(spec, answer.pivot, answer.earlier, drawing.locale);
  const config = spec.kind === "pie" || spec.kind === "ring" ? partsConfig(spec, data, drawing, answer) : seriesConfig(spec, data, drawing, answer);
  return { config, data, notice: data.notice ?? leftOutWords(spec), say: (series, place) => markWords(data, series, place, drawing.locale) };
}

/** What stands on the shelves of a pie and is not drawn. */
const leftOutWords = ({ kind, pivot }: ChartSpec): string | null =>
  CHARTS[kind].shape === "parts" && leftOutOf(pivot).length > 0
    ? "A pie shows one set of parts of its first figure. The split and further figures are not drawn."
    : null;

function seriesColours(data: ChartData, { chosen, theme }: Drawing): string[] {
  const keys = [...new Set(data.series.map((s) => s.key || `figure ${s.figure}`))];
  const colours = coloursFor(keys, chosen, theme);
  return data.series.map((s) => colours.get(s.key || `figure ${s.figure}`) ?? theme.rest);
}

function seriesConfig(spec: ChartSpec, data: ChartData, drawing: Drawing, answer: Extract<ChartAnswer, { pivot: unknown }>): ChartConfiguration {
  const colours = seriesColours(data, drawing);
  const stacked = spec.kind === "stacked" || spec.kind === "hundred" || spec.kind === "areas";
  const line = spec.kind === "lines" || spec.kind === "areas" || spec.kind === "steps";
  const lying = spec.lying && !line;
  const value = lying ? "x" : "y";
  const percent = data.figures.some((f) => f.format.percent);
  const own = data.series.filter((s) => !s.earlier);
  const datasets = data.series.map((s, i): ChartDataset<"bar" | "line"> => {
    const colour = colours[i] ?? drawing.theme.rest;
    const order = s.earlier ? 10 : s.right ? 0 : 5;
    const nth = own.findIndex((o) => o.heading === s.heading && o.figure === s.figure);
    const sign = nth < 0 ? i : nth;
    const axis = s.right ? { [lying ? "xAxisID" : "yAxisID"]: "right" } : {};
    const name = { label: s.name, data: s.values, order, ...axis, ...(lying ? { indexAxis: "y" as const } : {}) };
    if (s.earlier)
      return {
        ...name,
        type: "line",
        borderColor: colour,
        borderDash: [3, 3],
        borderWidth: 1.5,
        pointRadius: 0,
        backgroundColor: "transparent",
        stack: "earlier",
      } as ChartDataset<"line">;
    if (line || s.right)
      return {
        ...name,
        type: "line",
        borderColor: colour,
        borderWidth: 2,
        borderDash: dashOf(sign),
        pointStyle: signOf(sign),
        pointRadius: data.places.length > 60 ? 0 : 3,
        pointBackgroundColor: colour,
        pointHitRadius: 8,
        spanGaps: false,
        backgroundColor: spec.kind === "areas" ? fill(spec, drawing, colour, sign) : "transparent",
        fill: spec.kind === "areas" ? (i === 0 ? "origin" : "-1") : false,
        stepped: spec.kind === "steps" ? "before" : false,
        stack: s.right ? `right ${i}` : spec.kind === "areas" ? "own" : `line ${i}`,
      } as ChartDataset<"line">;
    const single = own.length === 1 && answer.pivot.across.some((h) => h.rest !== null);
    const shades = single ? data.places.map((p) => (answer.pivot.across[p.heading]?.rest ? drawing.theme.rest : colour)) : colour;
    return {
      ...name,
      type: "bar",
      backgroundColor: Array.isArray(shades) ? shades : fill(spec, drawing, colour, sign),
      borderColor: drawing.theme.paper,
      // Around thin bars it would leave nothing of their colour.
      borderWidth: stacked && data.places.length <= MOST_EDGED_BARS ? 0.5 : 0,
      ...(stacked ? { stack: "own" } : {}),
      // One bar alone is not as wide as the whole plot.
      ...(spec.kind === "histogram" ? {} : { maxBarThickness: drawing.size * 4 }),
      categoryPercentage: spec.kind === "histogram" ? 1 : 0.82,
      barPercentage: spec.kind === "histogram" ? 0.97 : 0.94,
    } as ChartDataset<"bar">;
  });
  const rules = [
    ...(data.target
      ? [
          rule(
            data.target.words,
            data.places.map(() => data.target?.value ?? 0),
            drawing.theme.vermilion,
            [6, 4],
          ),
        ]
      : []),
    ...(data.mean !== null
      ? [
          rule(
            "mean",
            data.places.map(() => data.mean ?? 0),
            drawing.theme.soft,
            [2, 3],
          ),
        ]
      : []),
    ...(data.trend
      ? [
          rule(
            "trend",
            data.places.map((_, i) => trendAt(data, i)),
            drawing.theme.ochre,
            [8, 4],
          ),
        ]
      : []),
  ].map((r) => (lying ? { ...r, indexAxis: "y" as const } : r));
  const tick = { color: drawing.theme.soft, font: font(drawing.size) };
  // Marks stand on the line at nought, wherever it is.
  const below = data.series.some((s) => s.values.some((v) => v !== null && v < 0));
  const places = {
    stacked,
    grid: { display: false },
    border: { display: !below, color: drawing.theme.ink },
    ticks: { ...tick, maxRotation: 40, autoSkipPadding: lying ? 0 : 12, autoSkip: !(lying && data.places.length <= (drawing.compact ? 10 : MOST_NAMED_BARS)) },
  };
  const amounts = {
    stacked,
    beginAtZero: !line || spec.kind === "areas",
    ...(spec.kind === "hundred" ? { max: 1 } : {}),
    grid: { color: ({ tick }: { tick?: { value: number } }) => (below && tick?.value === 0 ? drawing.theme.ink : drawing.theme.hairline) },
    border: { display: false },
    // Of what is counted there are no halves.
    ticks: {
      ...tick,
      callback: tickWriter(drawing, percent),
      maxTicksLimit: drawing.compact ? 5 : 8,
      ...(data.figures.every((f) => f.type.kind === "whole") ? { precision: 0 } : {}),
    },
    title: { display: !drawing.compact, text: heightWords(data, own, false), color: drawing.theme.soft, font: font(drawing.size) },
  };
  const right = own.some((s) => s.right)
    ? {
        right: {
          ...amounts,
          stacked: false,
          position: lying ? ("top" as const) : ("right" as const),
          grid: { display: false },
          title: { ...amounts.title, text: heightWords(data, own, true) },
        },
      }
    : {};
  const several = data.series.length + rules.length > 1;
  return {
    type: "bar",
    data: { labels: placeLabels(spec, data, drawing, answer), datasets: [...datasets, ...rules] as ChartDataset<"bar">[] },
    options: {
      ...shared(drawing, several),
      ...(spec.labels && lying ? { layout: { padding: { top: 14, right: drawing.size * 4 } } } : {}),
      indexAxis: lying ? "y" : "x",
      scales: { [value]: amounts, [lying ? "y" : "x"]: places, ...right } as never,
    },
    plugins: spec.labels ? [labelling(data, drawing, lying)] : [],
  };
}

/** What stands under the places: of a band only where it begins, of days in one year no year. */
function placeLabels({ kind }: ChartSpec, { places }: ChartData, { locale }: Drawing, { pivot }: Extract<ChartAnswer, { pivot: unknown }>): string[] {
  const [field, ...more] = pivot.axes.across;
  const words = places.map((p) => p.words);
  const keys = places.map((p) => pivot.across[p.heading]?.key ?? null);
  if (!field || more.length > 0) return words;
  if (kind === "histogram") {
    const write = cellWriter(field.type, { ...field.format, band: undefined }, locale);
    return keys.map((key, i) => write(key).text || (words[i] ?? ""));
  }
  // Days of one year need no year beside each.
  const years = new Set(keys.map((key) => String(key).slice(0, 4)));
  if (field.format.date !== "day" || years.size !== 1) return words;
  const day = new Intl.DateTimeFormat(locale.locale, { day: "numeric", month: "short", timeZone: "UTC" });
  return keys.map((key, i) => (typeof key === "string" ? day.format(new Date(`${key}T00:00:00Z`)) : (words[i] ?? "")));
}

/** What an axis measures: the figures drawn against it, with their unit. */
function heightWords({ figures }: ChartData, series: ChartData["series"], right: boolean): string {
  const shown = new Set(series.filter((s) => s.right === right).map((s) => s.figure));
  return [...shown].map((at) => withUnit(figures[at]?.heading ?? "", figures[at]?.unit)).join(" · ");
}

const trendAt = ({ trend, places }: ChartData, place: number): number =>
  trend ? trend.from + ((trend.to - trend.from) * place) / Math.max(1, places.length - 1) : 0;

const fill = ({ patterns }: ChartSpec, { pattern }: Drawing, colour: string, sign: number) => (patterns && sign > 0 ? pattern(colour, sign) : colour);

/** Writes each value beside its mark. */
function labelling(data: ChartData, drawing: Drawing, lying: boolean): Plugin {
  const writers = data.figures.map((f) => cellWriter(f.type, f.format, drawing.locale));
  return {
    id: "labels",
    afterDatasetsDraw(chart) {
      if (data.places.length * data.series.length > MOST_LABELS) return;
      const { ctx, chartArea } = chart;
      if (lying && chartArea.height / data.places.length < drawing.size) return;
      ctx.save();
      ctx.font = `${drawing.size}px ${font(1).family}`;
      ctx.fillStyle = drawing.theme.soft;
      data.series.forEach((s, i) => {
        if (s.earlier) return;
        chart.getDatasetMeta(i).data.forEach((mark, place) => {
          const cell = s.cells[place] ?? null;
          if (cell === null) return;
          ctx.textAlign = lying ? "left" : "center";
          ctx.textBaseline = lying ? "middle" : "bottom";
          ctx.fillText(writers[s.figure]?.(cell).text ?? "", mark.x + (lying ? 5 : 0), mark.y - (lying ? 0 : 3));
        });
      });
      ctx.restore();
    },
  };
}

function partsConfig(spec: ChartSpec, data: ChartData, drawing: Drawing, { pivot }: Extract<ChartAnswer, { pivot: unknown }>): ChartConfiguration {
  const [first] = data.series;
  const keys = data.places.map((p) => colourKey(pivot.across[p.heading] as Heading));
  const colours = coloursFor(keys, drawing.chosen, drawing.theme);
  const fills = keys.map((key, i) => {
    const colour = colours.get(key) ?? drawing.theme.rest;
    return spec.patterns && i > 0 ? drawing.pattern(colour, i) : colour;
  });
  const figure = data.figures[first?.figure ?? 0];
  const write = figure ? cellWriter(figure.type, figure.format, drawing.locale) : () => ({ text: "" });
  const whole = (first?.values ?? []).reduce<number>((sum, v) => sum + (v ?? 0), 0);
  const percent = new Intl.NumberFormat(drawing.locale.locale, { style: "percent", maximumFractionDigits: 1 });
  const words = data.places.map(
    (p, i) =>
      `${p.words}${drawing.narrow ? "" : `  ${write(first?.cells[i] ?? null).text}`}${whole > 0 ? `  ${percent.format((first?.values[i] ?? 0) / whole)}` : ""}`,
  );
  const { plugins, ...base } = shared(drawing, true);
  const labels = { ...plugins.legend.labels, ...(drawing.compact ? { padding: 4 } : {}), ...(drawing.narrow ? { boxWidth: 12 } : {}) };
  return {
    type: "doughnut",
    data: {
      labels: words,
      datasets: [
        {
          data: data.notice ? [] : (first?.values.map((v) => v ?? 0) ?? []),
          backgroundColor: fills as string[],
          borderColor: drawing.theme.paper,
          borderWidth: 1.5,
        },
      ],
    },
    options: {
      ...base,
      cutout: spec.kind === "ring" ? "58%" : 0,
      plugins: { ...plugins, legend: { ...plugins.legend, labels, display: true, position: "right" } },
    } as never,
    plugins: spec.kind === "ring" && !data.notice ? [inTheMiddle(write(pivot.cells[0]?.[0] ?? null).text, drawing)] : [],
  };
}

/** Writes the whole in a ring's middle, as large as there is room for. */
const inTheMiddle = (words: string, { size, theme }: Drawing): Plugin => ({
  id: "whole",
  afterDatasetsDraw(chart) {
    const { ctx } = chart;
    const [mark] = chart.getDatasetMeta(0).data as unknown as { x: number; y: number; innerRadius: number }[];
    if (!mark) return;
    ctx.save();
    ctx.textAlign = "center";
    ctx.textBaseline = "middle";
    ctx.fillStyle = theme.ink;
    const largest = size * 2;
    ctx.font = `600 ${largest}px ${font(1).family}`;
    const room = mark.innerRadius * 1.6;
    ctx.font = `600 ${Math.min(largest, (largest * room) / ctx.measureText(words).width)}px ${font(1).family}`;
    ctx.fillText(words, mark.x, mark.y);
    ctx.restore();
  },
});
