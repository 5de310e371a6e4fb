"use client";

import { useMemo } from "react";
import { toast } from "sonner";
import { EARLIER } from "@/core/chart/spec";
import { changeTile, joinTiles, removeTile } from "@/core/dashboard/edit";
import type { PlainTile, Tile } from "@/core/dashboard/spec";
import { AGGREGATES, type AggregateName, firstFigure } from "@/core/query/aggregates";
import { probeValues } from "@/core/query/operands";
import { tableOfPlan } from "@/core/query/over";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { GROUP_PART_WORDS } from "@/core/types/date";
import { isNumber, whole } from "@/core/types/valueType";

import { NumberField } from "../NumberField";
import { KINDS, Labelled, type ArrangeProps as Props } from "./arrange";

/** The query's columns as fields, as far as it can be resolved. */
function useFields(schema: Schema, query: QuerySpec | null, today: string): Table | null {
  return useMemo(() => {
    const resolved = query && resolveQuery(query, schema, { today, values: probeValues(query.parameters) });
    return resolved?.ok ? tableOfPlan(resolved.value) : null;
  }, [schema, query, today]);
}

/** The settings of one tile, by its kind. */
export function TileSettings({ tile, ...props }: Props & { tile: Tile }) {
  const { spec, change, select, schema, queryOf } = props;
  const set = (next: Tile) => change(changeTile(spec, next, schema, queryOf));
  const others = spec.tiles.filter((t) => t.id !== tile.id);
  return (
    <section className="grid gap-2 border-t border-hairline pt-3">
      <h3 className="caption">{KINDS[tile.kind]}</h3>
      <Labelled label="Title">
        <input className="field" aria-label="Title" value={tile.title} onChange={(e) => set({ ...tile, title: e.target.value })} />
      </Labelled>
      <Labelled label="Note under it">
        <input className="field" value={tile.note} onChange={(e) => set({ ...tile, note: e.target.value })} />
      </Labelled>
      {tile.kind === "switch" ? (
        <ul className="grid gap-3">
          {tile.tiles.map((inner, i) => (
            <li key={inner.id} className="border-l-2 border-column pl-2">
              <Labelled label={`Choice ${i + 1}`}>
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
        <Labelled label="Show it in turn with">
          <select className="field" value="" onChange={(e) => e.target.value && change(joinTiles(spec, tile.id, e.target.value))}>
            <option value="">no other tile</option>
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
        Take the tile off
      </button>
    </section>
  );
}

function KindSettings({ tile, set, sources, schema, today, queryOf }: Props & { tile: PlainTile; set: (next: PlainTile) => void }) {
  const query = queryOf(tile);
  const table = useFields(schema, query, today);
  /** A tile that bears its source's name takes that of the new one. */
  const titled = (list: { id: string; name: string }[], from: string, to: string) => {
    const nameOf = (id: string) => list.find((o) => o.id === id)?.name;
    return { title: tile.title === nameOf(from) ? (nameOf(to) ?? tile.title) : tile.title };
  };
  const named = (list: { id: string; name: string }[], value: string, choose: (id: string) => void, label: string) => (
    <Labelled label={label}>
      <select className="field" aria-label={label} value={value} onChange={(e) => choose(e.target.value)}>
        {!list.some((o) => o.id === value) && <option value={value}>one that is gone</option>}
        {list.map((o) => (
          <option key={o.id} value={o.id}>
            {o.name}
          </option>
        ))}
      </select>
    </Labelled>
  );
  switch (tile.kind) {
    case "figure":
      return (
        <>
          {named(
            sources.queries,
            tile.query,
            (id) => set({ ...tile, ...titled(sources.queries, tile.query, id), query: id, figure: { id: "f", value: null, figure: "count", showAs: "asIs" } }),
            "Made from",
          )}
          <FigureChoice tile={tile} set={set} table={table} />
          <Labelled label="Held against">
            <select
              className="field"
              aria-label="Held against"
              value={tile.compare?.kind === "earlier" ? tile.compare.by : (tile.compare?.kind ?? "")}
              onChange={(e) => {
                const by = EARLIER.find((x) => x === e.target.value);
                set({ ...tile, compare: by ? { kind: "earlier", by } : e.target.value === "target" ? { kind: "target", value: "" } : null });
              }}
            >
              <option value="">nothing</option>
              {EARLIER.map((by) => (
                <option key={by} value={by}>
                  the same one {GROUP_PART_WORDS[by]} before
                </option>
              ))}
              <option value="target">a target</option>
            </select>
          </Labelled>
          {tile.compare?.kind === "target" && (
            <Labelled label="Target">
              <NumberField label="Target" value={tile.compare.value} onChange={(value) => set({ ...tile, compare: { kind: "target", value } })} />
            </Labelled>
          )}
          <label className="flex gap-2">
            <input type="checkbox" className="accent-bottle" checked={tile.lessIsBetter} onChange={(e) => set({ ...tile, lessIsBetter: e.target.checked })} />
            Less is better
          </label>
        </>
      );
    case "chart":
      return named(sources.charts, tile.chart, (id) => set({ ...tile, ...titled(sources.charts, tile.chart, id), chart: id }), "Chart");
    case "pivot":
      return named(sources.pivots, tile.pivot, (id) => set({ ...tile, ...titled(sources.pivots, tile.pivot, id), pivot: id }), "Pivot");
    case "table":
      return (
        <>
          {named(
            sources.queries,
            tile.query,
            (id) => set({ ...tile, ...titled(sources.queries, tile.query, id), query: id, columns: [], order: null }),
            "Made from",
          )}
          <Labelled label="Rows shown">
            <input
              type="number"
              min={1}
              max={500}
              className="field"
              value={tile.first}
              onChange={(e) => set({ ...tile, first: Math.max(1, Math.min(500, Math.trunc(Number(e.target.value) || 1))) })}
            />
          </Labelled>
          <Labelled label="Order">
            <select
              className="field"
              value={tile.order ? `${tile.order.direction} ${tile.order.column}` : ""}
              onChange={(e) => {
                const [direction = "", column = ""] = e.target.value.split(/ (.*)/);
                set({ ...tile, order: column ? { column, direction: direction as "up" } : null });
              }}
            >
              <option value="">as in the query</option>
              {table?.columns.flatMap((c) => [
                <option key={`up ${c.name}`} value={`up ${c.name}`}>
                  {c.label}, up
                </option>,
                <option key={`down ${c.name}`} value={`down ${c.name}`}>
                  {c.label}, down
                </option>,
              ])}
            </select>
          </Labelled>
          <fieldset>
            <legend className="text-small text-soft">Columns</legend>
            {table?.columns.map((c) => {
              const all = table.columns.map((x) => x.name);
              const shown = tile.columns.length > 0 ? tile.columns : all;
              const next = shown.includes(c.name) ? shown.filter((x) => x !== c.name) : all.filter((x) => shown.includes(x) || x === c.name);
              return (
                <label key={c.name} className="flex gap-2">
                  <input
                    type="checkbox"
                    className="accent-bottle"
                    checked={shown.includes(c.name)}
                    onChange={() => next.length > 0 && set({ ...tile, columns: next })}
                  />
                  {c.label}
                </label>
              );
            })}
          </fieldset>
          <label className="flex gap-2">
            <input type="checkbox" className="accent-bottle" checked={tile.search} onChange={(e) => set({ ...tile, search: e.target.checked })} />
            With a search
          </label>
        </>
      );
    case "text":
      return (
        <Labelled label="Words; {today}, {filters}, {viewer} and the titles of figures stand for their values">
          <textarea className="field h-28" aria-label="Words" value={tile.text} onChange={(e) => set({ ...tile, text: e.target.value })} />
        </Labelled>
      );
    case "picture":
      return (
        <>
          <Labelled label="Picture (PNG, JPEG or WebP, up to 500 kB)">
            <input
              type="file"
              accept="image/png,image/jpeg,image/webp"
              onChange={(e) => readPicture(e.target.files?.[0], (source) => set({ ...tile, source }))}
            />
          </Labelled>
          <Labelled label="What it shows, in words">
            <input className="field" value={tile.alt} onChange={(e) => set({ ...tile, alt: e.target.value })} />
          </Labelled>
        </>
      );
    default:
      return tile satisfies never;
  }
}

const MOST_PICTURE_BYTES = 500_000;

function readPicture(file: File | undefined, use: (source: string) => void): void {
  if (!file) return;
  if (file.size > MOST_PICTURE_BYTES) return void toast.error(`This picture has ${Math.round(file.size / 1000)} kB, and 500 kB are the most. Make it smaller.`);
  const reader = new FileReader();
  reader.onload = () => use(String(reader.result));
  reader.readAsDataURL(file);
}

function FigureChoice({ tile, set, table }: { tile: Extract<PlainTile, { kind: "figure" }>; set: (next: PlainTile) => void; table: Table | null }) {
  const { figure } = tile;
  const column = figure.value?.kind === "field" ? table?.columns.find((c) => c.name === (figure.value as { column: string }).column) : undefined;
  const names = (Object.keys(AGGREGATES) as AggregateName[]).filter(
    (n) => AGGREGATES[n].order !== "needed" && (column ? AGGREGATES[n].takes(column.type) : n === "count"),
  );
  return (
    <>
      <Labelled label="Of">
        <select
          className="field"
          aria-label="Of"
          value={figure.value?.kind === "field" ? figure.value.column : ""}
          onChange={(e) => {
            const chosen = table?.columns.find((c) => c.name === e.target.value);
            set({
              ...tile,
              figure: {
                ...figure,
                value: chosen ? { kind: "field", join: "", column: chosen.name } : null,
                figure: chosen ? firstFigure(chosen.type) : "count",
                format: undefined,
              },
            });
          }}
        >
          <option value="">the rows</option>
          {table?.columns.map((c) => (
            <option key={c.name} value={c.name}>
              {c.label}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label="Figure">
        <select
          className="field"
          aria-label="Figure"
          value={figure.figure}
          onChange={(e) => set({ ...tile, figure: { ...figure, figure: e.target.value as AggregateName } })}
        >
          {names.map((n) => (
            <option key={n} value={n}>
              {AGGREGATES[n].words}
            </option>
          ))}
        </select>
      </Labelled>
      {isNumber(AGGREGATES[figure.figure].gives(column?.type ?? whole)) && (
        <Labelled label="Digits after the point (empty: as they come)">
          <input
            type="number"
            min={0}
            max={12}
            className="field"
            value={figure.format?.decimals ?? ""}
            onChange={(e) =>
              set({
                ...tile,
                figure: { ...figure, format: e.target.value === "" ? undefined : { decimals: Math.max(0, Math.min(12, Math.trunc(Number(e.target.value)))) } },
              })
            }
          />
        </Labelled>
      )}
    </>
  );
}
