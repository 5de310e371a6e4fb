"use client";

import { useEffect, useState } from "react";
import { readingOrder } from "@/core/dashboard/edit";
import type { DashboardSpec } from "@/core/dashboard/spec";
import { type Desk, TileFrame } from "./tiles";

/** Pixels of a row of the grid. */
export const ROW = 28;

/** Whether the screen is too narrow for a grid: tiles then stand below each other. */
export function useNarrow(): boolean {
  const [narrow, setNarrow] = useState(false);
  useEffect(() => {
    const media = window.matchMedia("(max-width: 767px)");
    const follow = () => setNarrow(media.matches);
    follow();
    media.addEventListener("change", follow);
    return () => media.removeEventListener("change", follow);
  }, []);
  return narrow;
}

/** Twelve columns of whole pixels: what is drawn between two of them is blurred. */
const COLUMNS = "grid-cols-[repeat(12,minmax(0,round(down,100%/12,1px)))]";

/** The tiles of a dashboard where they stand. */
export function TileGrid({ spec, desk, narrow, look }: { spec: DashboardSpec; desk: Desk; narrow: boolean; look: string }) {
  return (
    <div className={`grid ${narrow ? "grid-cols-[minmax(0,1fr)]" : `auto-rows-[28px] ${COLUMNS}`} ${look}`} data-testid="tiles">
      {readingOrder(spec, narrow).map((id) => {
        const tile = spec.tiles.find((t) => t.id === id);
        const place = spec.wide.find((p) => p.tile === id);
        if (!tile || !place) return null;
        const where = narrow ? { height: place.h * ROW } : { gridColumn: `${place.x + 1} / span ${place.w}`, gridRow: `${place.y + 1} / span ${place.h}` };
        return (
          <section
            key={id}
            aria-label={tile.title || tile.kind}
            data-tile={id}
            className="min-w-0 overflow-hidden border-r border-b border-column"
            style={where}
          >
            <TileFrame tile={tile} desk={desk} />
          </section>
        );
      })}
    </div>
  );
}
