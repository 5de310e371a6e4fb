import type { Plugin } from "chart.js";
import { cellWriter, writeNumber } from "../types/format";
import { scaleOf } from "../types/valueType";
import type { ChartAnswer } from "./data";
import { type Drawing, type Drawn, font, shared, tickWriter } from "./style";

/** Boxes over groups: bars from the first quarter to the third, with what a plugin draws around them. */
export function drawBoxes(answer: Extract<ChartAnswer, { shape: "values" }>, drawing: Drawing): Drawn {
  const { boxes, group, type, heading } = answer;
  const scale = 10 ** scaleOf(type);
  const write = group ? cellWriter(group.type, group.format, drawing.locale) : null;
  const labels = boxes.map((b) => (write ? write(b.key).text || `No ${group?.heading.toLowerCase()}` : heading));
  const colour = drawing.theme.series[0] ?? drawing.theme.rest;
  const plugin: Plugin = {
    id: "boxes",
    afterDatasetsDraw(chart) {
      const { ctx, scales } = chart;
      const y = (v: number) => scales.y?.getPixelForValue(v / scale) ?? 0;
      ctx.save();
      ctx.strokeStyle = drawing.theme.ink;
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
        ctx.strokeStyle = drawing.theme.paper;
        stroke([x - half, y(box.median), x + half, y(box.median)]);
        ctx.strokeStyle = drawing.theme.ink;
        // One circle for all that would lie on the same one.
        for (const at of new Set(box.outliers.map((v) => Math.round(y(v))))) {
          ctx.beginPath();
          ctx.arc(x, at, 2, 0, 2 * Math.PI);
          ctx.stroke();
        }
      });
      ctx.restore();
    },
  };
  const tick = { color: drawing.theme.soft, font: font(drawing.size) };
  const ends = boxes.flatMap((b) => [b.box.least / scale, b.box.greatest / scale]);
  const number = new Intl.NumberFormat(drawing.locale.locale, { maximumFractionDigits: scaleOf(type) + 1 });
  const amount = (value: number) => writeNumber(number, value);
  return {
    say: (_, place) => {
      const box = boxes[place]?.box;
      const [q1 = "", median = "", q3 = ""] = box ? [box.q1, box.median, box.q3].map((v) => amount(v / scale)) : [];
      return box ? `${labels[place] ?? ""}: median ${median}, half of ${amount(box.count)} between ${q1} and ${q3}` : "";
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
            grid: { color: drawing.theme.hairline },
            ticks: { ...tick, callback: tickWriter(drawing, false) },
            title: { display: !drawing.compact, text: heading, color: drawing.theme.soft, font: font(drawing.size) },
          },
        },
      } as never,
      plugins: [plugin],
    },
    data: null,
    notice: boxes.length === 0 ? "No rows have a value, so the chart is empty." : null,
  };
}
