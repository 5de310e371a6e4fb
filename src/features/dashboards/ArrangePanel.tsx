"use client";

import { toast } from "sonner";
import { addTile, firstTile } from "@/core/dashboard/edit";
import type { TileKind } from "@/core/dashboard/spec";
import { moved } from "@/core/types/list";
import { Margin } from "@/ui/Margin";
import { COMMON } from "../words";
import { type ArrangeProps, KINDS, Labelled } from "./arrange";
import { FiltersPanel } from "./FiltersPanel";
import { TileSettings } from "./TileSettings";
import { WORDS } from "./words";

const ADDED: Exclude<TileKind, "switch">[] = ["figure", "chart", "table", "pivot", "text", "picture"];

/** The margin while a dashboard is arranged: tiles, filters, the page. */
export function ArrangePanel(props: ArrangeProps) {
  const { spec, change, selected, select, sources, schema, queryOf } = props;
  const tile = spec.tiles.find((t) => t.id === selected);
  const add = (kind: (typeof ADDED)[number]) => {
    const make = firstTile(kind, sources);
    if (!make) return void toast(WORDS.saveFirst(kind === "chart" || kind === "pivot" ? kind : "query"));
    const next = addTile(spec, make, schema, queryOf);
    change(next);
    select(next.tiles.at(-1)?.id ?? null);
  };
  return (
    <Margin
      parts={[
        {
          name: WORDS.tiles,
          content: (
            <div className="grid gap-4">
              <section>
                <h3 className="caption pb-1">{COMMON.add}</h3>
                <div className="flex flex-wrap gap-1.5">
                  {ADDED.map((kind) => (
                    <button key={kind} type="button" className="chip" onClick={() => add(kind)}>
                      + {KINDS[kind].toLowerCase()}
                    </button>
                  ))}
                </div>
              </section>
              {tile ? <TileSettings {...props} tile={tile} key={tile.id} /> : <p className="text-soft">{WORDS.selectATileToEdit}</p>}
            </div>
          ),
        },
        { name: WORDS.filters, content: <FiltersPanel {...props} /> },
        { name: COMMON.page, content: <PageSettings {...props} /> },
      ]}
    />
  );
}

function PageSettings({ spec, change, remove }: ArrangeProps) {
  const move = (i: number, by: -1 | 1) => change({ ...spec, narrow: moved(spec.narrow, i, by) });
  return (
    <div className="grid gap-4">
      <Labelled label={WORDS.refreshEveryMinutesEmptyManually}>
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
        <h3 className="caption pb-1">{WORDS.orderOnNarrowScreens}</h3>
        <ol className="border border-hairline">
          {spec.narrow.map((id, i) => {
            const tile = spec.tiles.find((t) => t.id === id);
            const name = tile?.title || tile?.kind || id;
            return (
              <li key={id} className="flex items-center gap-1 px-2">
                <span className="flex-1 truncate">{name}</span>
                <button type="button" className="small-button" disabled={i === 0} aria-label={WORDS.moveUp(name)} onClick={() => move(i, -1)}>
                  ↑
                </button>
                <button
                  type="button"
                  className="small-button"
                  disabled={i === spec.narrow.length - 1}
                  aria-label={WORDS.moveDown(name)}
                  onClick={() => move(i, 1)}
                >
                  ↓
                </button>
              </li>
            );
          })}
        </ol>
      </section>
      <button type="button" className="justify-self-start font-semibold text-vermilion hover:underline" onClick={remove}>
        {WORDS.deleteDashboard}
      </button>
    </div>
  );
}
