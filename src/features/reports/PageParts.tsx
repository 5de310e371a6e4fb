"use client";

import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import * as edit from "@/core/report/edit";
import { POINTS_PER_MM } from "@/core/report/frame";
import type { Page, Part } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import { writeNumber } from "@/core/types/format";
import { useLocale } from "../workspace/locale";
import { PageView } from "./PageView";
import { dropBefore, isSamePart, nextPart, partsOf, type Shown } from "./pageParts";
import { WORDS } from "./words";

type Props = {
  page: Page;
  spec: ReportSpec;
  change: (next: ReportSpec, kind?: string) => void;
  nameOf: (part: Part) => string;
  selected: Part | null;
  select: (part: Part) => void;
  /** Groups by a column that was dropped over the page. */
  groupBy: (column: string) => void;
};

/** What is dragged: the edge of a column, or a column to another place. */
type Drag =
  | { kind: "edge"; column: string; from: number; width: number }
  | { kind: "column"; column: string; from: number; to: number; moved: boolean; over: boolean };

const KEYS = ["ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown", "Home", "End"];
/** By which a key makes a column wider, in mm. */
const STEP_MM = 1;
/** How far a pointer moves before a column follows it, in points. */
const HELD = 4;

/** A page whose parts can be chosen, and whose columns can be dragged: by their edges, and to other places. */
export function PageParts({ page, spec, change, nameOf, selected, select, groupBy }: Props) {
  const { locale } = useLocale();
  const parts = useMemo(() => partsOf(page), [page]);
  const [at, setAt] = useState(0);
  const [drag, show] = useState<Drag | null>(null);
  /** The same at once: a pointer may be let go before what it did last is drawn. */
  const dragging = useRef<Drag | null>(null);
  const setDrag = (next: Drag | null) => {
    dragging.current = next;
    show(next);
  };
  const held = useRef<HTMLDivElement>(null);
  /** The part that was changed by a key: where it moves, the keyboard goes with it. */
  const changed = useRef<string | null>(null);
  useEffect(() => {
    const { activeElement } = document;
    if (changed.current === null || (activeElement !== document.body && !held.current?.contains(activeElement))) return;
    const at = parts.findIndex((p) => p.key === changed.current);
    if (at < 0) return;
    setAt(at);
    held.current?.querySelectorAll<HTMLElement>("[data-part]")[at]?.focus();
  }, [parts]);
  const headings = parts.flatMap((p) => (p.part.kind === "columnHeading" ? [{ ...p, column: p.part.column }] : []));
  const scale = () => page.width / (held.current?.clientWidth || page.width);
  const place = ({ x, y, width, height }: Pick<Shown, "x" | "y" | "width" | "height">) => ({
    left: `${(x / page.width) * 100}%`,
    top: `${(y / page.height) * 100}%`,
    width: `${(width / page.width) * 100}%`,
    height: `${(height / page.height) * 100}%`,
  });
  const widthOf = (column: string) => headings.find((h) => h.column === column)?.width ?? 0;

  function onKeyDown(event: KeyboardEvent<HTMLButtonElement>, shown: Shown): void {
    const { part } = shown;
    const column = part.kind === "columnHeading" || part.kind === "value" ? part.column : null;
    if (column && event.altKey && (event.key === "ArrowLeft" || event.key === "ArrowRight")) {
      event.preventDefault();
      const i = spec.columns.findIndex((c) => c.id === column);
      const before = event.key === "ArrowLeft" ? spec.columns[i - 1]?.id : spec.columns[i + 2]?.id;
      changed.current = shown.key;
      if (event.key === "ArrowRight" || before) change(edit.putColumn(spec, column, before ?? null));
      return;
    }
    if (column && event.shiftKey && (event.key === "ArrowLeft" || event.key === "ArrowRight")) {
      event.preventDefault();
      const now = spec.columns.find((c) => c.id === column)?.widthMm ?? widthOf(column) / POINTS_PER_MM;
      changed.current = shown.key;
      return change(edit.setWidth(spec, column, now + (event.key === "ArrowRight" ? STEP_MM : -STEP_MM)), `width ${column}`);
    }
    if (!KEYS.includes(event.key)) return;
    changed.current = null;
    event.preventDefault();
    const next = nextPart(parts, parts.indexOf(shown), event.key);
    setAt(next);
    held.current?.querySelectorAll<HTMLElement>("[data-part]")[next]?.focus();
  }

  function grab(event: PointerEvent<HTMLElement>, next: Drag): void {
    event.preventDefault();
    event.currentTarget.setPointerCapture(event.pointerId);
    setDrag(next);
  }

  function move(event: PointerEvent<HTMLElement>): void {
    const drag = dragging.current;
    if (!drag || !held.current) return;
    const box = held.current.getBoundingClientRect();
    const x = (event.clientX - box.left) * scale();
    if (drag.kind === "edge") {
      const mm = (drag.width + x - drag.from) / POINTS_PER_MM;
      change(edit.setWidth(spec, drag.column, mm), `width ${drag.column}`);
    } else setDrag({ ...drag, to: x, moved: drag.moved || Math.abs(x - drag.from) > HELD || event.clientY < box.top, over: event.clientY < box.top });
  }

  function drop(): void {
    const drag = dragging.current;
    if (drag?.kind === "column" && drag.moved) {
      if (drag.over) groupBy(drag.column);
      else {
        const others = headings.filter((h) => h.column !== drag.column);
        change(edit.putColumn(spec, drag.column, dropBefore(others, drag.to)));
      }
    }
    setDrag(null);
  }

  const dragged = drag?.kind === "column" && drag.moved ? drag : null;
  const before = dragged && !dragged.over ? dropBefore(headings, dragged.to) : null;
  const line = dragged && !dragged.over ? (headings.find((h) => h.column === before)?.x ?? (headings.at(-1)?.x ?? 0) + (headings.at(-1)?.width ?? 0)) : null;
  return (
    <div className="grid gap-1">
      {dragged && (
        <p
          className={`-mt-1 rounded border border-dashed p-1 text-center text-small ${dragged.over ? "border-bottle bg-bottle-tint text-bottle" : "border-faint text-soft"}`}
        >
          {WORDS.groupByDropped(nameOf({ kind: "columnHeading", column: dragged.column }))}
        </p>
      )}
      <div ref={held} className="relative" role="group" aria-label={WORDS.parts}>
        <PageView page={page} />
        {parts.map((shown, i) => {
          const { part } = shown;
          const chosen = selected !== null && isSamePart(selected, part);
          const column = part.kind === "columnHeading" ? part.column : null;
          return (
            <button
              key={shown.key}
              type="button"
              data-part={part.kind}
              aria-label={nameOf(part)}
              aria-pressed={chosen}
              tabIndex={i === Math.min(at, parts.length - 1) ? 0 : -1}
              onFocus={() => setAt(i)}
              onClick={() => !dragged && select(part)}
              onKeyDown={(e) => onKeyDown(e, shown)}
              onPointerDown={(e) => {
                if (!column || e.button !== 0) return;
                const from = (e.clientX - (held.current?.getBoundingClientRect().left ?? 0)) * scale();
                e.currentTarget.setPointerCapture(e.pointerId);
                setDrag({ kind: "column", column, from, to: from, moved: false, over: false });
              }}
              onPointerMove={move}
              onPointerUp={drop}
              onPointerCancel={() => setDrag(null)}
              className={`absolute touch-none rounded-[1px] border border-transparent hover:border-bottle/60 hover:bg-bottle/5 focus-visible:border-bottle ${chosen ? "border-bottle bg-bottle/10" : ""} ${column ? "cursor-grab" : "cursor-pointer"}`}
              style={place(shown)}
            />
          );
        })}
        {headings.map((h) => (
          <span
            key={`edge ${h.key}`}
            data-edge={h.column}
            aria-hidden="true"
            className="absolute z-10 w-2 -translate-x-1/2 cursor-col-resize touch-none border-x-2 border-transparent hover:border-r-bottle"
            style={{ ...place({ x: h.x + h.width + 3, y: h.y, width: 0, height: h.height }), width: "0.6rem" }}
            onPointerDown={(e) => {
              const from = (e.clientX - (held.current?.getBoundingClientRect().left ?? 0)) * scale();
              grab(e, { kind: "edge", column: h.column, from, width: h.width });
            }}
            onPointerMove={move}
            onPointerUp={drop}
            onPointerCancel={() => setDrag(null)}
          />
        ))}
        {drag?.kind === "edge" && (
          <span
            className="pointer-events-none absolute z-20 rounded bg-ink px-1.5 text-tiny text-paper"
            style={place({
              ...(headings.find((h) => h.column === drag.column) ?? { x: 0, width: 0, height: 0 }),
              y: Math.max(0, (headings[0]?.y ?? 0) - 14),
              height: 12,
            })}
          >
            {WORDS.width(writeNumber(new Intl.NumberFormat(locale, { maximumFractionDigits: 1 }), widthOf(drag.column) / POINTS_PER_MM))}
          </span>
        )}
        {line !== null && headings[0] && (
          <span
            className="pointer-events-none absolute z-20 w-0.5 bg-bottle"
            style={{ ...place({ x: line - 4, y: headings[0].y, width: 0, height: 60 }), width: "2px" }}
          />
        )}
      </div>
    </div>
  );
}
