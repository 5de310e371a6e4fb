import type { ChartConfiguration, ChartDataset } from "chart.js";
import { cellWriter } from "../types/format";
import { withUnit } from "../types/unit";
import type { Cell } from "../types/valueType";
import { coloursFor } from "./colours";
import { type ChartAnswer, drawnNumber } from "./data";
import type { ChartSpec } from "./spec";
import { trendOf } from "./statistics";
import { type Drawing, type Drawn, font, rule, shared, signOf, tickWriter } from "./style";

/** Rows as points: one dataset for each colour. */
export function drawPoints(spec: ChartSpec, answer: Extract<ChartAnswer, { shape: "points" }>, drawing: Drawing): Drawn {
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
  const colours = coloursFor([...groups.keys()], drawing.chosen, drawing.theme);
  const datasets = [...groups].map(([key, group], i): ChartDataset<"scatter"> => {
    const colour = colours.get(key) ?? drawing.theme.rest;
    const point = { pointStyle: signOf(i), pointRadius: group.points.map((p) => p.r), pointHitRadius: 6 };
    return { type: "scatter", label: group.words, data: group.points, backgroundColor: `${colour}99`, borderColor: colour, ...point };
  });
  const all = [...groups.values()].flatMap((g) => g.points);
  const notice =
    answer.points.length === 0
      ? "No rows meet the conditions, so the chart is empty."
      : all.length === 0
        ? "Every row lacks one of the numbers, so the chart is empty."
        : null;
  const tick = { color: drawing.theme.soft, font: font(drawing.size), callback: tickWriter(drawing, false) };
  const axis = (i: number) => ({
    grid: { color: drawing.theme.hairline },
    ticks: tick,
    title: {
      display: !drawing.compact,
      text: withUnit(column(i)?.heading ?? "", column(i)?.unit),
      color: drawing.theme.soft,
      font: font(drawing.size),
    },
  });
  const writers = [0, 1].map((i) => cellWriter(column(i)?.type ?? { kind: "floating" }, column(i)?.format ?? {}, drawing.locale));
  const marks = [...groups.values()];
  const base = shared(drawing, groups.size > 1);
  const { legend } = base.plugins;
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
      data: { datasets: [...datasets, ...(spec.trend ? trendLine(all, drawing.theme.ochre) : [])] as unknown as ChartConfiguration["data"]["datasets"] },
      options: {
        ...base,
        plugins: { ...base.plugins, legend: { ...legend, labels: { ...legend.labels, usePointStyle: true } } },
        scales: { x: axis(0), y: axis(1) },
      } as never,
    },
    data: null,
    notice: notice ?? (left > 0 ? `${left} ${left === 1 ? "row lacks" : "rows lack"} one of the numbers and ${left === 1 ? "is" : "are"} not drawn.` : null),
  };
}

function trendLine(points: { x: number; y: number }[], colour: string): ChartDataset<"line">[] {
  const xs = points.map((p) => p.x);
  const [from, to] = [xs.reduce((a, b) => Math.min(a, b), Infinity), xs.reduce((a, b) => Math.max(a, b), -Infinity)];
  const line = trendOf(points.map((p) => [p.x, p.y]));
  if (!line) return [];
  const at = (x: number) => ({ x, y: line.intercept + line.slope * x });
  return [{ ...rule("trend", [], colour, [8, 4]), data: [at(from), at(to)] as never }];
}
