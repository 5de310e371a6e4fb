"use client";

import { Chart, registerables } from "chart.js";
import { type KeyboardEvent, useEffect, useId, useLayoutEffect, useMemo, useRef, useState } from "react";
import { DARK, LIGHT } from "@/core/chart/colours";
import { drawChart } from "@/core/chart/config";
import type { ChartAnswer } from "@/core/chart/data";
import { paintPattern } from "@/core/chart/patterns";
import type { Mark } from "@/core/chart/rows";
import type { ChartSpec } from "@/core/chart/spec";
import { type Drawn, fitsIn } from "@/core/chart/style";
import { markAfter } from "@/core/chart/walk";
import { useDark } from "@/ui/appearance";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

Chart.register(...registerables);

type Props = {
  spec: ChartSpec;
  answer: ChartAnswer;
  chosen: Record<string, number>;
  label: string;
  /** What choosing a mark does, in words ("opens the rows behind one") and in deed. */
  onMark?: { does: string; act: (mark: Mark, drawn: Drawn) => void } | undefined;
  /** Shows the chart's table in its place. */
  onTable?: () => void;
};

/** The mark under the pointer, and where the pointer is within the drawing, in pixels. */
type Hover = { mark: Mark; x: number; y: number };

const TILE = 12;
const SIZE = 12;

/** A colour's pattern; on the server, where nothing is drawn yet, the colour. */
function pattern(colour: string, place: number): string | CanvasPattern {
  if (typeof document === "undefined") return colour;
  const tile = document.createElement("canvas");
  tile.width = TILE;
  tile.height = TILE;
  const brush = tile.getContext("2d");
  if (!brush) return colour;
  paintPattern(brush, TILE, colour, place);
  return brush.createPattern(tile, "repeat") ?? colour;
}

/**
 * A chart that can be read without seeing it: arrows walk its marks, which are said as they are reached; Enter opens the
 * rows behind one, T shows the table.
 */
export default function ChartView({ spec, answer, chosen, label, onMark, onTable }: Props) {
  const locale = useLocale();
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  const hint = useId();
  const [at, setAt] = useState<Mark | null>(null);
  const [hover, setHover] = useState<Hover | null>(null);
  const { room, known, compact, narrow } = useFits();
  const theme = useDark() ? DARK : LIGHT;
  const drawing = useMemo(() => ({ locale, theme, chosen, pattern, size: SIZE, compact, narrow, animate: true }), [locale, theme, chosen, compact, narrow]);
  const drawn = useMemo(() => drawChart(spec, answer, drawing), [spec, answer, drawing]);

  useEffect(() => {
    if (!canvas.current || !known) return;
    chart.current = new Chart(canvas.current, drawn.config);
    setAt(null);
    setHover(null);
    return () => chart.current?.destroy();
  }, [drawn, known]);

  function light(mark: Mark | null): void {
    setAt(mark);
    chart.current?.setActiveElements(mark ? [{ datasetIndex: mark.series, index: mark.place }] : []);
    chart.current?.update("none");
  }

  /** The mark under the pointer. Parts of a whole are places of one series. */
  function markAt(event: React.MouseEvent): Mark | null {
    const [found] = chart.current?.getElementsAtEventForMode(event.nativeEvent, "nearest", { intersect: true }, false) ?? [];
    return found ? { series: found.datasetIndex, place: found.index } : null;
  }

  function onKeyDown(event: KeyboardEvent): void {
    if (event.key.toLowerCase() === "t" && onTable) return onTable();
    const { datasets } = drawn.config.data;
    // Targets, means and trends are drawn after the series, and are not walked.
    const series = datasets.slice(0, drawn.data?.series.length ?? datasets.length);
    const to = markAfter(
      event.key,
      at,
      series.map((d) => d.data.length),
    );
    if (to) light(to);
    else if (event.key === "Enter" && at) onMark?.act(at, drawn);
    else if (event.key === "Escape") light(null);
    else return;
    event.preventDefault();
  }

  const words = (mark: Mark) => drawn.say(mark.series, mark.place);
  return (
    <div className="relative flex h-full min-h-0 w-full flex-col">
      {drawn.notice && <p className="pb-1 text-small text-ochre">{drawn.notice}</p>}
      <div
        ref={room}
        className="relative min-h-0 flex-1"
        role="application"
        aria-roledescription="chart"
        data-kind={spec.kind}
        aria-label={label}
        aria-describedby={hint}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the marks are walked by arrows, as in a grid
        tabIndex={0}
        onKeyDown={onKeyDown}
        onBlur={() => light(null)}
      >
        <canvas
          ref={canvas}
          className={onMark ? "cursor-pointer" : ""}
          onMouseMove={(e) => {
            const mark = markAt(e);
            const box = e.currentTarget.getBoundingClientRect();
            setHover(mark && { mark, x: e.clientX - box.left, y: e.clientY - box.top });
          }}
          onMouseLeave={() => setHover(null)}
          onClick={(e) => {
            const mark = markAt(e);
            if (mark) onMark?.act(mark, drawn);
          }}
        />
        {hover && <MarkTip words={words(hover.mark)} at={hover} width={canvas.current?.clientWidth ?? 0} />}
      </div>
      <p id={hint} className="sr-only">
        {WORDS.walkHint(onMark ? WORDS.enterDoes(onMark.does) : "", onTable ? WORDS.tShowsTheTable : "")}
      </p>
      <p aria-live="polite" className={at ? "text-small text-soft" : "sr-only"} data-testid="mark">
        {at && words(at)}
      </p>
    </div>
  );
}

/** The room a chart has, once it is known, and what of it must be drawn smaller or left out there. */
function useFits() {
  const room = useRef<HTMLDivElement>(null);
  const [fits, setFits] = useState({ known: false, compact: false, narrow: false });
  useLayoutEffect(() => {
    if (!room.current) return;
    const measure = (size: { width: number; height: number }) => {
      const fits = fitsIn(size, SIZE);
      setFits((f) => (f.known && f.compact === fits.compact && f.narrow === fits.narrow ? f : { known: true, ...fits }));
    };
    measure(room.current.getBoundingClientRect());
    const observer = new ResizeObserver(([entry]) => entry && measure(entry.contentRect));
    observer.observe(room.current);
    return () => observer.disconnect();
  }, []);
  return { room, ...fits };
}

/** What the mark under the pointer says, beside it. */
function MarkTip({ words, at, width }: { words: string | null; at: Hover; width: number }) {
  if (!words) return null;
  return (
    <span
      className="pointer-events-none absolute z-10 rounded bg-ink px-2 py-1 text-small whitespace-nowrap text-sheet"
      style={{ left: at.x, top: Math.max(0, at.y - 34), transform: `translateX(${at.x > width / 2 ? "-100%" : "0"})` }}
    >
      {words}
    </span>
  );
}
