"use client";
import { WORDS } from "./words";

import "react-grid-layout/css/styles.css";
import { type KeyboardEvent, type ReactNode, useState } from "react";
import ReactGridLayout, { useContainerWidth } from "react-grid-layout";
import { nudgeTile, removeTile } from "@/core/dashboard/edit";
import type { DashboardSpec, Tile } from "@/core/dashboard/spec";

type Props = {
  spec: DashboardSpec;
  change: (next: DashboardSpec) => void;
  selected: string | null;
  select: (id: string | null) => void;
  rowHeight: number;
  tile: (tile: Tile) => ReactNode;
};

type Moved = readonly { i: string; x: number; y: number; w: number; h: number }[];

/** The tiles on their grid while they are arranged: by dragging, by their corner, and by keys alone. */
export function ArrangeGrid({ spec, change, selected, select, rowHeight, tile: draw }: Props) {
  const { width, containerRef, mounted } = useContainerWidth();
  const [said, setSaid] = useState("");
  const keep = (layout: Moved) => {
    const wide = spec.wide.map((p) => {
      const found = layout.find((l) => l.i === p.tile);
      return found ? { tile: p.tile, x: found.x, y: found.y, w: found.w, h: found.h } : p;
    });
    if (JSON.stringify(wide) !== JSON.stringify(spec.wide)) change({ ...spec, wide });
  };
  const onKeyDown = (event: KeyboardEvent, id: string, name: string) => {
    if (event.target !== event.currentTarget) return;
    const step = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] }[event.key];
    if (event.altKey && step) {
      const [x = 0, y = 0] = step;
      const next = nudgeTile(spec, id, event.shiftKey ? { w: x, h: y } : { x, y });
      const place = next.wide.find((p) => p.tile === id);
      change(next);
      if (place) setSaid(WORDS.tilePlace(name, place.x + 1, place.y + 1, place.w, place.h));
    } else if (event.key === "Enter") select(id);
    else if (event.key === "Delete") change(removeTile(spec, id));
    else return;
    event.preventDefault();
  };
  return (
    <div ref={containerRef} className="mx-7">
      <p aria-live="polite" className="sr-only">
        {said}
      </p>
      {mounted && (
        <ReactGridLayout
          width={width}
          layout={spec.wide.map((p) => ({ i: p.tile, x: p.x, y: p.y, w: p.w, h: p.h, minW: 1, minH: 2 }))}
          gridConfig={{ cols: 12, rowHeight, margin: [0, 0], containerPadding: [0, 0] }}
          dragConfig={{ enabled: true, handle: ".tile-handle" }}
          onDragStop={(layout) => keep(layout as Moved)}
          onResizeStop={(layout) => keep(layout as Moved)}
        >
          {spec.wide.flatMap((p) => {
            const tile = spec.tiles.find((t) => t.id === p.tile);
            if (!tile) return [];
            const name = tile.title || tile.kind;
            return [
              <section
                key={p.tile}
                data-tile={p.tile}
                // biome-ignore lint/a11y/noNoninteractiveTabindex: a tile is moved and sized by keys where it stands
                tabIndex={0}
                aria-label={WORDS.tileKeys(name)}
                onKeyDown={(e) => onKeyDown(e, p.tile, name)}
                onFocus={(e) => e.target === e.currentTarget && select(p.tile)}
                className={`overflow-hidden border bg-paper ${selected === p.tile ? "border-bottle" : "border-column"}`}
              >
                <div className="absolute top-0 right-0 z-20 flex items-center rounded-bl border-b border-l border-rule bg-sheet text-soft">
                  <span className="tile-handle cursor-move px-2 py-0.5" title={WORDS.drag(name)} onPointerDown={() => select(p.tile)}>
                    ⠿
                  </span>
                  <button type="button" className="small-button" aria-label={WORDS.settingsOf(name)} onClick={() => select(p.tile)}>
                    …
                  </button>
                </div>
                {draw(tile)}
              </section>,
            ];
          })}
        </ReactGridLayout>
      )}
    </div>
  );
}
