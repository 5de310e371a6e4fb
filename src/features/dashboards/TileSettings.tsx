"use client";

import { changeTile, joinTiles, removeTile } from "@/core/dashboard/edit";
import type { Tile } from "@/core/dashboard/spec";
import { COMMON } from "../words";
import { type ArrangeProps, KINDS, Labelled } from "./arrange";
import { KindSettings } from "./KindSettings";
import { WORDS } from "./words";

/** The settings of one tile, by its kind. */
export function TileSettings({ tile, ...props }: ArrangeProps & { tile: Tile }) {
  const { spec, change, select, schema, queryOf } = props;
  const set = (next: Tile) => change(changeTile(spec, next, schema, queryOf));
  const others = spec.tiles.filter((t) => t.id !== tile.id);
  return (
    <section className="grid gap-2 border-t border-hairline pt-3">
      <h3 className="caption">{KINDS[tile.kind]}</h3>
      <Labelled label={COMMON.title}>
        <input className="field" aria-label={COMMON.title} value={tile.title} onChange={(e) => set({ ...tile, title: e.target.value })} />
      </Labelled>
      <Labelled label={WORDS.note}>
        <input className="field" value={tile.note} onChange={(e) => set({ ...tile, note: e.target.value })} />
      </Labelled>
      {tile.kind === "switch" ? (
        <ul className="grid gap-3">
          {tile.tiles.map((inner, i) => (
            <li key={inner.id} className="border-l-2 border-column pl-2">
              <Labelled label={WORDS.choice(i + 1)}>
                <input
                  className="field"
                  value={inner.title}
                  onChange={(e) => set({ ...tile, tiles: tile.tiles.map((t, k) => (k === i ? { ...t, title: e.target.value } : t)) })}
                />
              </Labelled>
              <KindSettings {...props} tile={inner} set={(next) => set({ ...tile, tiles: tile.tiles.map((t, k) => (k === i ? next : t)) })} />
            </li>
          ))}
        </ul>
      ) : (
        <KindSettings {...props} tile={tile} set={set} />
      )}
      {tile.kind !== "switch" && others.length > 0 && (
        <Labelled label={WORDS.alternateWith}>
          <select className="field" value="" onChange={(e) => e.target.value && change(joinTiles(spec, tile.id, e.target.value))}>
            <option value="">{COMMON.none}</option>
            {others.map((t) => (
              <option key={t.id} value={t.id}>
                {t.title || t.kind}
              </option>
            ))}
          </select>
        </Labelled>
      )}
      <button
        type="button"
        className="justify-self-start font-semibold text-vermilion hover:underline"
        onClick={() => {
          change(removeTile(spec, tile.id));
          select(null);
        }}
      >
        {WORDS.removeTile}
      </button>
    </section>
  );
}
