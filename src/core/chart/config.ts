import type { ChartConfiguration, ChartDataset, Plugin } from "chart.js";
import type { Heading } from "../pivot/assemble";
import { cellWriter, type Locale } from "../types/format";
import { type Cell, scaleOf } from "../types/valueType";
import { CHART_COLOURS, coloursFor, INK, REST_COLOUR } from "./colours";
import { type ChartAnswer, type ChartData, colourKey, drawnNumber, markWords, seriesOf } from "./data";
import type { ChartSpec } from "./spec";
import { trendOf } from "./statistics";

/*
 * A chart as the drawing library takes it (Chart.js), the same in the browser and on the server. Numbers here are for
 * drawing; what is written is written from the exact cells.
 */

/** What differs between the places a chart is drawn in. */
export type Drawing = {
  locale: Locale;
  /** Colours chosen for values, by key. */
  chosen: Record<string, number>;
  /** A fill that carries a sign beside its colour; the n-th differs from the others. */
  pattern: (colour: string, place: number) => string | CanvasPattern;
  /** Sizes of type on screen; larger on paper. */
  size: number;
  /** Small: no legend, fewer ticks. */
  compact: boolean;
  animate: boolean;
};

export type Drawn = {
  config: ChartConfiguration;
  data: ChartData | null;
  notice: string | null;
  /** A mark in words, as it is said and shown beside the pointer; "" for what is no mark: a target, a mean, a trend. */
  say: (series: number, place: number) => string;
};

export const DASHES = [[], [6, 3], [2, 2], [8, 3, 2, 3], [1, 3], [10, 4], [4, 2, 1, 2]];
const SIGNS = ["circle", "rect", "triangle", "rectRot", "crossRot", "star", "cross"] as const;
/** As many bars that lie are all named. */
const MOST_NAMED_BARS = 25;
/** More marks than this are not labelled: their labels would lie on each other. */
const MOST_LABELS = 80;

/** Makes the configuration of a chart, and the data its table and its spoken marks are made of. */
export function drawChart(spec: ChartSpec, answer: ChartAnswer, drawing: Drawing): Drawn {
  if (answer.shape === "points") return drawPoints(spec, answer, drawing);
  if (answer.shape === "values") return drawBoxes(answer, drawing);
  const data = seriesOf(spec, answer.pivot, answer.earlier, drawing.locale);
  const config = spec.kind === "pie" || spec.kind === "ring" ? partsConfig(spec, data, drawing, answer) : seriesConfig(spec, data, drawing, answer);
  return { config, data, notice: data.notice, say: (series, place) => markWords(data, series, place, drawing.locale) };
}

const font = (size: number) => ({ family: "'Source Sans 3 Variable', 'Source Sans 3', sans-serif", size });

/** Amounts along an axis, short: "30k". */
function tickWriter({ locale }: Drawing, percent: boolean) {
  const number = new Intl.NumberFormat(locale.locale, percent ? { style: "percent" } : { notation: "compact", maximumFractionDigits: 1 });
  return (value: string | number) => number.format(Number(value));
}

function seriesColours(data: ChartData, { chosen }: Drawing): string[] {
  const keys = [...new Set(data.series.map((s) => s.key || `figure ${s.figure}`))];
  const colours = coloursFor(keys, chosen);
  return data.series.map((s) => colours.get(s.key || `figure ${s.figure}`) ?? REST_COLOUR);
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
    const colour = colours[i] ?? REST_COLOUR;
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
        borderDash: DASHES[sign % DASHES.length],
        pointStyle: SIGNS[sign % SIGNS.length],
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
    const shades = single ? data.places.map((p) => (answer.pivot.across[p.heading]?.rest ? REST_COLOUR : colour)) : colour;
    return {
      ...name,
      type: "bar",
      backgroundColor: Array.isArray(shades) ? shades : fill(spec, drawing, colour, sign),
      borderColor: INK.paper,
      borderWidth: stacked ? 0.5 : 0,
      ...(stacked ? { stack: "own" } : {}),
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
            INK.vermilion,
            [6, 4],
          ),
        ]
      : []),
    ...(data.mean !== null
      ? [
          rule(
            "mean",
            data.places.map(() => data.mean ?? 0),
            INK.soft,
            [2, 3],
          ),
        ]
      : []),
    ...(data.trend
      ? [
          rule(
            "trend",
            data.places.map((_, i) => trendAt(data, i)),
            INK.ochre,
            [8, 4],
          ),
        ]
      : []),
  ].map((r) => (lying ? { ...r, indexAxis: "y" as const } : r));
  const tick = { color: INK.soft, font: font(drawing.size) };
  const places = {
    stacked,
    grid: { display: false },
    border: { color: INK.ink },
    ticks: { ...tick, maxRotation: 40, autoSkipPadding: 12, autoSkip: !(lying && data.places.length <= MOST_NAMED_BARS) },
  };
  const amounts = {
    stacked,
    beginAtZero: !line || spec.kind === "areas",
    ...(spec.labels && lying ? { grace: "14%" } : {}),
    ...(spec.kind === "hundred" ? { max: 1 } : {}),
    grid: { color: INK.hairline },
    border: { display: false },
    ticks: { ...tick, callback: tickWriter(drawing, percent), maxTicksLimit: drawing.compact ? 5 : 8 },
    title: { display: !drawing.compact, text: heightWords(data, own, false), color: INK.soft, font: font(drawing.size) },
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
  return [...shown].map((at) => [figures[at]?.heading, figures[at]?.unit].filter(Boolean).join(", ")).join(" · ");
}

const trendAt = ({ trend, places }: ChartData, place: number): number =>
  trend ? trend.from + ((trend.to - trend.from) * place) / Math.max(1, places.length - 1) : 0;

const fill = ({ patterns }: ChartSpec, { pattern }: Drawing, colour: string, sign: number) => (patterns && sign > 0 ? pattern(colour, sign) : colour);

const rule = (label: string, data: number[], colour: string, dash: number[]) =>
  ({
    type: "line",
    label,
    data,
    borderColor: colour,
    borderDash: dash,
    borderWidth: 1.5,
    pointRadius: 0,
    pointHitRadius: 0,
    order: -1,
    stack: label,
    backgroundColor: "transparent",
  }) as ChartDataset<"line">;

function shared({ locale, size, compact, animate }: Drawing, legend: boolean) {
  return {
    responsive: animate,
    maintainAspectRatio: false,
    animation: false as const,
    locale: locale.locale,
    layout: { padding: { top: 14, right: 10 } },
    plugins: {
      legend: {
        display: legend && !compact,
        position: "bottom" as const,
        labels: { color: INK.ink, font: font(size), usePointStyle: false, boxWidth: 22, boxHeight: 10 },
      },
      tooltip: { enabled: false },
    },
    interaction: { mode: "nearest" as const, intersect: true },
  };
}

/** Writes each value beside its mark. */
function labelling(data: ChartData, drawing: Drawing, lying: boolean): Plugin {
  const writers = data.figures.map((f) => cellWriter(f.type, f.format, drawing.locale));
  return {
    id: "labels",
    afterDatasetsDraw(chart) {
      if (data.places.length * data.series.length > MOST_LABELS) return;
      const { ctx } = chart;
      ctx.save();
      ctx.font = `${drawing.size}px ${font(1).family}`;
      ctx.fillStyle = INK.soft;
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
  const colours = coloursFor(keys, drawing.chosen);
  const fills = keys.map((key, i) => {
    const colour = colours.get(key) ?? CHART_COLOURS[i % CHART_COLOURS.length] ?? REST_COLOUR;
    return spec.patterns && i > 0 ? drawing.pattern(colour, i) : colour;
  });
  const figure = data.figures[first?.figure ?? 0];
  const write = figure ? cellWriter(figure.type, figure.format, drawing.locale) : () => ({ text: "" });
  const whole = (first?.values ?? []).reduce<number>((sum, v) => sum + (v ?? 0), 0);
  const percent = new Intl.NumberFormat(drawing.locale.locale, { style: "percent", maximumFractionDigits: 1 });
  const words = data.places.map(
    (p, i) => `${p.words}  ${write(first?.cells[i] ?? null).text}${whole > 0 ? `  ${percent.format((first?.values[i] ?? 0) / whole)}` : ""}`,
  );
  const base = shared(drawing, true);
  return {
    type: "doughnut",
    data: {
      labels: words,
      datasets: [
        { data: data.notice ? [] : (first?.values.map((v) => v ?? 0) ?? []), backgroundColor: fills as string[], borderColor: INK.paper, borderWidth: 1.5 },
      ],
    },
    options: {
      ...base,
      cutout: spec.kind === "ring" ? "58%" : 0,
      plugins: { ...base.plugins, legend: { ...base.plugins.legend, display: true, position: "right" } },
    } as never,
  };
}

function drawPoints(spec: ChartSpec, answer: Extract<ChartAnswer, { shape: "points" }>, drawing: Drawing): Drawn {
  const groupAt = 2 + (answer.size ? 1 : 0);
  const nameAt = groupAt + (answer.group ? 1 : 0);
  const column = (i: number) => answer.columns[i];
  const number = (row: Cell[], i: number) => drawnNumber(row[i] ?? null, column(i)?.type ?? { kind: "floating" });
  const groups = new Map<string, { words: string; points: { x: number; y: number; r: number; name: string; row: number }[] }>();
  const sizes = answer.size ? answer.points.map((r) => Math.abs(number(r, 2) ?? 0)) : [];
  const most = Math.max(1e-9, ...sizes.slice(0, 20_000));
  const writeGroup =
    answer.group && column(groupAt) ? cellWriter(column(groupAt)?.type ?? { kind: "text" }, column(groupAt)?.format ?? {}, drawing.locale) : null;
  const writeName = answer.name && column(nameAt) ? cellWriter(column(nameAt)?.type ?? { kind: "text" }, column(nameAt)?.format ?? {}, drawing.locale) : null;
  let left = 0;
  for (const [i, row] of answer.points.entries()) {
    const [x, y] = [number(row, 0), number(row, 1)];
    if (x === null || y === null) {
      left++;
      continue;
    }
    const key = answer.group ? JSON.stringify(row[groupAt] ?? null) : "";
    const group = groups.get(key) ?? {
      words: writeGroup ? writeGroup(row[groupAt] ?? null).text || `No ${column(groupAt)?.heading.toLowerCase()}` : "",
      points: [],
    };
    group.points.push({ x, y, r: answer.size ? 3 + 17 * Math.sqrt((sizes[i] ?? 0) / most) : 3.5, name: writeName?.(row[nameAt] ?? null).text ?? "", row: i });
    groups.set(key, group);
  }
  const colours = coloursFor([...groups.keys()], drawing.chosen);
  const datasets = [...groups].map(([key, group], i): ChartDataset<"scatter"> => {
    const colour = colours.get(key) ?? REST_COLOUR;
    const point = { pointStyle: SIGNS[i % SIGNS.length] ?? "circle", pointRadius: group.points.map((p) => p.r), pointHitRadius: 6 };
    return { type: "scatter", label: group.words, data: group.points, backgroundColor: `${colour}99`, borderColor: colour, ...point };
  });
  const all = [...groups.values()].flatMap((g) => g.points);
  const notice =
    answer.points.length === 0
      ? "No row meets the conditions, so there is nothing to draw."
      : all.length === 0
        ? "Every row lacks one of the numbers, so there is nothing to draw."
        : null;
  const tick = { color: INK.soft, font: font(drawing.size), callback: tickWriter(drawing, false) };
  const axis = (i: number) => ({
    grid: { color: INK.hairline },
    ticks: tick,
    title: { display: !drawing.compact, text: column(i)?.heading ?? "", color: INK.soft, font: font(drawing.size) },
  });
  const writers = [0, 1].map((i) => cellWriter(column(i)?.type ?? { kind: "floating" }, column(i)?.format ?? {}, drawing.locale));
  const marks = [...groups.values()];
  return {
    say: (series, place) => {
      const group = marks[series];
      const point = group?.points[place];
      const row = point && answer.points[point.row];
      if (!group || !row) return "";
      const [x = "", y = ""] = writers.map((write, i) => `${column(i)?.heading} ${write(row[i] ?? null).text}`);
      return `${[point.name, group.words].filter(Boolean).join(", ") || "A row"}: ${x}, ${y}`;
    },
    config: {
      type: "scatter",
      data: { datasets: [...datasets, ...(spec.trend ? trendLine(all) : [])] as ChartDataset<"scatter">[] },
      options: { ...shared(drawing, groups.size > 1), scales: { x: axis(0), y: axis(1) } } as never,
    },
    data: null,
    notice: notice ?? (left > 0 ? `${left} ${left === 1 ? "row lacks" : "rows lack"} one of the numbers and ${left === 1 ? "is" : "are"} not drawn.` : null),
  };
}

function trendLine(points: { x: number; y: number }[]): ChartDataset<"line">[] {
  const xs = points.map((p) => p.x);
  const [from, to] = [xs.reduce((a, b) => Math.min(a, b), Infinity), xs.reduce((a, b) => Math.max(a, b), -Infinity)];
  const line = trendOf(points.map((p) => [p.x, p.y]));
  if (!line) return [];
  const at = (x: number) => ({ x, y: line.intercept + line.slope * x });
  return [{ ...rule("trend", [], INK.ochre, [8, 4]), data: [at(from), at(to)] as never }];
}

function drawBoxes(answer: Extract<ChartAnswer, { shape: "values" }>, drawing: Drawing): Drawn {
  const { boxes, group, type, heading } = answer;
  const scale = 10 ** scaleOf(type);
  const write = group ? cellWriter(group.type, group.format, drawing.locale) : null;
  const labels = boxes.map((b) => (write ? write(b.key).text || `No ${group?.heading.toLowerCase()}` : heading));
  const colour = CHART_COLOURS[0];
  const plugin: Plugin = {
    id: "boxes",
    afterDatasetsDraw(chart) {
      const { ctx, scales } = chart;
      const y = (v: number) => scales.y?.getPixelForValue(v / scale) ?? 0;
      ctx.save();
      ctx.strokeStyle = INK.ink;
      ctx.lineWidth = 1.4;
      const stroke = (...lines: [number, number, number, number][]) => {
        for (const [x1, y1, x2, y2] of lines) {
          ctx.beginPath();
          ctx.moveTo(x1, y1);
          ctx.lineTo(x2, y2);
          ctx.stroke();
        }
      };
      chart.getDatasetMeta(0).data.forEach((mark, i) => {
        const box = boxes[i]?.box;
        if (!box) return;
        const half = ((mark as unknown as { width: number }).width ?? 20) / 2;
        const x = mark.x;
        stroke(
          [x, y(box.low), x, y(box.q1)],
          [x, y(box.q3), x, y(box.high)],
          [x - half / 2, y(box.low), x + half / 2, y(box.low)],
          [x - half / 2, y(box.high), x + half / 2, y(box.high)],
        );
        ctx.strokeStyle = "#ffffff";
        stroke([x - half, y(box.median), x + half, y(box.median)]);
        ctx.strokeStyle = INK.ink;
        for (const v of box.outliers.slice(0, 500)) {
          ctx.beginPath();
          ctx.arc(x, y(v), 2, 0, 2 * Math.PI);
          ctx.stroke();
        }
      });
      ctx.restore();
    },
  };
  const tick = { color: INK.soft, font: font(drawing.size) };
  const ends = boxes.flatMap((b) => [b.box.least / scale, b.box.greatest / scale]);
  const amount = new Intl.NumberFormat(drawing.locale.locale, { maximumFractionDigits: scaleOf(type) + 1 });
  return {
    say: (_, place) => {
      const box = boxes[place]?.box;
      const [q1 = "", median = "", q3 = ""] = box ? [box.q1, box.median, box.q3].map((v) => amount.format(v / scale)) : [];
      return box ? `${labels[place] ?? ""}: median ${median}, half of ${amount.format(box.count)} between ${q1} and ${q3}` : "";
    },
    config: {
      type: "bar",
      data: {
        labels,
        datasets: [{ label: heading, data: boxes.map((b) => [b.box.q1 / scale, b.box.q3 / scale]) as never, backgroundColor: colour, barPercentage: 0.6 }],
      },
      options: {
        ...shared(drawing, false),
        scales: {
          x: { grid: { display: false }, ticks: tick },
          y: {
            beginAtZero: false,
            suggestedMin: Math.min(...ends),
            suggestedMax: Math.max(...ends),
            grid: { color: INK.hairline },
            ticks: { ...tick, callback: tickWriter(drawing, false) },
          },
        },
      } as never,
      plugins: [plugin],
    },
    data: null,
    notice: boxes.length === 0 ? "No row has a value here, so there is nothing to draw." : null,
  };
}
