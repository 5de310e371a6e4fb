"use client";

import { toast } from "sonner";
import { addTile, firstTile } from "@/core/dashboard/edit";
import type { TileKind } from "@/core/dashboard/spec";
import { moved } from "@/core/types/list";
import { Margin } from "@/ui/Margin";

import { type ArrangeProps, KINDS, Labelled } from "./arrange";
import { FiltersPanel } from "./FiltersPanel";
import { TileSettings } from "./TileSettings";

const ADDED: Exclude<TileKind, "switch">[] = ["figure", "chart", "table", "pivot", "text", "picture"];

/** The margin while a dashboard is arranged: tiles, filters, the page. */
export function ArrangePanel(props: ArrangeProps) {
  const { spec, change, selected, select, sources, schema, queryOf } = props;
  const tile = spec.tiles.find((t) => t.id === selected);
  const add = (kind: (typeof ADDED)[number]) => {
    const make = firstTile(kind, sources);
    if (!make) return void toast(`Save a ${kind === "chart" || kind === "pivot" ? kind : "query"} first; the tile shows it.`);
    const next = addTile(spec, make, schema, queryOf);
    change(next);
    select(next.tiles.at(-1)?.id ?? null);
  };
  return (
    <Margin
      parts={[
        {
          name: "Tiles",
          content: (
            <div className="grid gap-4">
              <section>
                <h3 className="caption pb-1">Add</h3>
                <div className="flex flex-wrap gap-1.5">
                  {ADDED.map((kind) => (
                    <button key={kind} type="button" className="chip" onClick={() => add(kind)}>
                      + {KINDS[kind].toLowerCase()}
                    </button>
                  ))}
                </div>
              </section>
              {tile ? (
                <TileSettings {...props} tile={tile} key={tile.id} />
              ) : (
                <p className="text-soft">Choose a tile to change it. Drag it by its bar, size it at its corner, or use Alt with the arrows.</p>
              )}
            </div>
          ),
        },
        { name: "Filters", content: <FiltersPanel {...props} /> },
        { name: "Page", content: <PageSettings {...props} /> },
      ]}
    />
  );
}

function PageSettings({ spec, change, remove }: ArrangeProps) {
  const move = (i: number, by: -1 | 1) => change({ ...spec, narrow: moved(spec.narrow, i, by) });
  return (
    <div className="grid gap-4">
      <Labelled label="Refresh every so many minutes (empty: by hand)">
        <input
          type="number"
          min={1}
          max={1440}
          className="field"
          value={spec.refresh ?? ""}
          onChange={(e) => change({ ...spec, refresh: e.target.value === "" ? null : Math.max(1, Math.min(1440, Math.trunc(Number(e.target.value)))) })}
        />
      </Labelled>
      <section>
        <h3 className="caption pb-1">Order on a narrow screen</h3>
        <ol className="border border-hairline">
          {spec.narrow.map((id, i) => {
            const tile = spec.tiles.find((t) => t.id === id);
            const name = tile?.title || tile?.kind || id;
            return (
              <li key={id} className="flex items-center gap-1 px-2">
                <span className="flex-1 truncate">{name}</span>
                <button type="button" className="small-button" disabled={i === 0} aria-label={`${name} up`} onClick={() => move(i, -1)}>
                  ↑
                </button>
                <button type="button" className="small-button" disabled={i === spec.narrow.length - 1} aria-label={`${name} down`} onClick={() => move(i, 1)}>
                  ↓
                </button>
              </li>
            );
          })}
        </ol>
      </section>
      <button type="button" className="justify-self-start font-semibold text-vermilion hover:underline" onClick={remove}>
        Delete this dashboard
      </button>
    </div>
  );
}
