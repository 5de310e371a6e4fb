"use client";

import { type PointerEvent, type RefObject, useRef, useState } from "react";
import * as edit from "@/core/report/edit";
import { POINTS_PER_MM } from "@/core/report/frame";
import type { ReportSpec } from "@/core/report/spec";
import { dropBefore, type Shown } from "./pageParts";

export type HeadingShown = Shown & { column: string };

/** What is dragged: the edge of a column, or a column to another place. */
type Drag =
  | { kind: "edge"; column: string; from: number; width: number }
  | { kind: "column"; column: string; from: number; to: number; moved: boolean; over: boolean };

/** How far a pointer moves before a column follows it, in points. */
const HELD = 4;

type Dragged = {
  page: { width: number };
  held: RefObject<HTMLElement | null>;
  headings: HeadingShown[];
  spec: ReportSpec;
  change: (next: ReportSpec, kind?: string) => void;
  /** A column was dropped over the page. */
  groupBy: (column: string) => void;
};

/** Drags of columns over a page: by their edges, to other places, and over the page, which groups by them. */
export function useColumnDrag({ page, held, headings, spec, change, groupBy }: Dragged) {
  const [drag, show] = useState<Drag | null>(null);
  /** The same at once: a pointer may be let go before what it did last is drawn. */
  const now = useRef<Drag | null>(null);
  const set = (next: Drag | null) => {
    now.current = next;
    show(next);
  };
  /** Where a pointer is on the page, in points. */
  const placeOf = (event: PointerEvent<HTMLElement>): { x: number; over: boolean } => {
    const box = held.current?.getBoundingClientRect();
    const x = (event.clientX - (box?.left ?? 0)) * (page.width / (box?.width || page.width));
    return { x, over: event.clientY < (box?.top ?? 0) };
  };
  function grab(event: PointerEvent<HTMLElement>, made: (x: number) => Drag): void {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    set(made(placeOf(event).x));
  }
  function move(event: PointerEvent<HTMLElement>): void {
    const drag = now.current;
    if (!drag) return;
    const { x, over } = placeOf(event);
    if (drag.kind === "edge") change(edit.setWidth(spec, drag.column, (drag.width + x - drag.from) / POINTS_PER_MM), `width ${drag.column}`);
    else set({ ...drag, to: x, moved: drag.moved || Math.abs(x - drag.from) > HELD || over, over });
  }
  function drop(): void {
    const drag = now.current;
    set(null);
    if (drag?.kind !== "column" || !drag.moved) return;
    if (drag.over) return groupBy(drag.column);
    const others = headings.filter((h) => h.column !== drag.column);
    change(edit.putColumn(spec, drag.column, dropBefore(others, drag.to)));
  }
  const handlers = { onPointerMove: move, onPointerUp: drop, onPointerCancel: () => set(null) };
  return {
    /** What moves now. */
    edge: drag?.kind === "edge" ? drag.column : null,
    moving: drag?.kind === "column" && drag.moved ? drag : null,
    ofColumn: (column: string) => ({
      ...handlers,
      onPointerDown: (e: PointerEvent<HTMLElement>) => grab(e, (x) => ({ kind: "column", column, from: x, to: x, moved: false, over: false })),
    }),
    ofEdge: ({ column, width }: HeadingShown) => ({
      ...handlers,
      onPointerDown: (e: PointerEvent<HTMLElement>) => {
        e.preventDefault();
        grab(e, (x) => ({ kind: "edge", column, from: x, width }));
      },
    }),
  };
}
