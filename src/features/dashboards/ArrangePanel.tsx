"use client";

import { type ReactNode, useMemo } from "react";
import { toast } from "sonner";
import { EARLIER } from "@/core/chart/spec";
import { addFilter, addTile, changeFilter, changeTile, joinTiles, removeTile } from "@/core/dashboard/edit";
import { filterColumn, proposeMeeting } from "@/core/dashboard/filters";
import { type DashboardSpec, type PlainTile, plainTiles, type Tile, type TileKind } from "@/core/dashboard/spec";
import { AGGREGATES, type AggregateName, firstFigure } from "@/core/query/aggregates";
import { probeValues } from "@/core/query/operands";
import { tableOfPlan } from "@/core/query/over";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { GROUP_PART_WORDS } from "@/core/types/date";
import { isNumber, whole } from "@/core/types/valueType";
import type { Sources } from "@/server/dashboards/sources";
import { BriefPopover } from "@/ui/Brief";
import { Margin } from "@/ui/Margin";
import { FieldPicker } from "../queries/editors/parts";
import { FilterEditor } from "./FilterEditor";

type Props = {
  spec: DashboardSpec;
  change: (next: DashboardSpec) => void;
  selected: string | null;
  select: (id: string | null) => void;
  sources: Sources;
  schema: Schema;
  today: string;
  queryOf: (tile: PlainTile) => QuerySpec | null;
  remove: () => void;
};

const KINDS: Record<TileKind, string> = {
  figure: "A figure",
  chart: "A chart",
  table: "A table",
  pivot: "A pivot",
  text: "Words",
  picture: "A picture",
  switch: "A switch",
};
const ADDED: Exclude<TileKind, "switch">[] = ["figure", "chart", "table", "pivot", "text", "picture"];

const Labelled = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="grid gap-0.5">
    <span className="text-small text-soft">{label}</span>
    {children}
  </label>
);

/** The query's columns as fields, as far as it can be resolved. */
function useFields(schema: Schema, query: QuerySpec | null, today: string): Table | null {
  return useMemo(() => {
    const resolved = query && resolveQuery(query, schema, { today, values: probeValues(query.parameters) });
    return resolved?.ok ? tableOfPlan(resolved.value) : null;
  }, [schema, query, today]);
}

/** A tile of a kind as it is first added, from the first thing it can be made from; null where there is none yet. */
function firstTile(kind: (typeof ADDED)[number], sources: Sources): ((id: string) => PlainTile) | null {
  const titled = { title: "", note: "" };
  const [query] = sources.queries;
  const [chart] = sources.charts;
  const [pivot] = sources.pivots;
  switch (kind) {
    case "figure":
      return query
        ? (id) => ({
            ...titled,
            id,
            kind,
            title: query.name,
            query: query.id,
            figure: { id: "f", value: null, figure: "count", showAs: "asIs" },
            compare: null,
            lessIsBetter: false,
          })
        : null;
    case "chart":
      return chart ? (id) => ({ ...titled, id, kind, title: chart.name, chart: chart.id }) : null;
    case "pivot":
      return pivot ? (id) => ({ ...titled, id, kind, title: pivot.name, pivot: pivot.id }) : null;
    case "table":
      return query ? (id) => ({ ...titled, id, kind, title: query.name, query: query.id, columns: [], order: null, first: 8, search: false }) : null;
    case "text":
      return (id) => ({ ...titled, id, kind, text: "Seen on {today}, for {filters}." });
    case "picture":
      return (id) => ({ ...titled, id, kind, source: "", alt: "" });
    default:
      return kind satisfies never;
  }
}

/** The margin while a dashboard is arranged: tiles, filters, the page. */
export function ArrangePanel(props: Props) {
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
        { name: "Filters", content: <Filters {...props} /> },
        { name: "Page", content: <PageSettings {...props} /> },
      ]}
    />
  );
}

function TileSettings({ tile, ...props }: Props & { tile: Tile }) {
  const { spec, change, select } = props;
  const set = (next: Tile) => change(changeTile(spec, next));
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
              <input
                className="field"
                inputMode="decimal"
                value={tile.compare.value}
                onChange={(e) => set({ ...tile, compare: { kind: "target", value: e.target.value } })}
              />
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

/** The filters: what each is on, what it shows at first, and how it meets each tile. */
function Filters({ spec, change, schema, sources, queryOf }: Props) {
  const tiles = plainTiles(spec).filter((t) => queryOf(t) !== null);
  const pathWords = (tile: PlainTile, table: string, column: string): string | null => {
    const query = queryOf(tile);
    const steps = query && proposeMeeting(schema, query, { table });
    return steps && [...steps.map((s) => schema.links.find((l) => l.id === s.link)?.[s.toward].name ?? "?"), column].join(" › ");
  };
  const starts = [...new Map(tiles.flatMap((t) => (queryOf(t) ? [[queryOf(t)?.source, queryOf(t)]] : []) as [string, QuerySpec][])).values()];
  return (
    <div className="grid gap-5">
      {spec.filters.length === 0 && (
        <p className="text-soft">No filter yet. One filter narrows every tile that links lead from; each viewer has their own values.</p>
      )}
      {spec.filters.map((filter) => {
        const column = filterColumn(schema, filter);
        return (
          <fieldset key={filter.id} className="grid gap-2 border-b border-hairline pb-3">
            <legend className="sr-only">{filter.label}</legend>
            <Labelled label="Called">
              <input
                className="field"
                aria-label="Called"
                value={filter.label}
                onChange={(e) => e.target.value && change(changeFilter(spec, filter.id, { label: e.target.value }))}
              />
            </Labelled>
            <p className="text-small text-soft">
              {filter.table} › {column?.label ?? "a column that is gone"}
            </p>
            {column && (
              <BriefPopover label={filter.default === null ? "shows everything at first" : "has a value at first"} className="chip justify-self-start">
                {(close) => (
                  <FilterEditor
                    filter={filter}
                    type={column.type}
                    value={filter.default}
                    change={(v) => change(changeFilter(spec, filter.id, { default: v }))}
                    close={close}
                  />
                )}
              </BriefPopover>
            )}
            {column?.type.kind === "text" && (
              <label className="flex gap-2 text-small">
                <input
                  type="checkbox"
                  className="accent-bottle"
                  checked={filter.default?.kind === "person"}
                  onChange={(e) => change(changeFilter(spec, filter.id, { default: e.target.checked ? { kind: "person" } : null }))}
                />
                At first, only what bears the viewer’s own name
              </label>
            )}
            <ul className="text-small">
              {tiles.map((tile) => {
                const words = pathWords(tile, filter.table, column?.label ?? filter.column);
                const query = queryOf(tile);
                return (
                  <li key={tile.id}>
                    <label className={`flex gap-2 ${words ? "" : "text-faint"}`}>
                      <input
                        type="checkbox"
                        className="accent-bottle"
                        disabled={!words || !query}
                        checked={filter.meets[tile.id] != null}
                        onChange={(e) => {
                          const steps = e.target.checked && query ? proposeMeeting(schema, query, filter) : null;
                          change(changeFilter(spec, filter.id, { meets: { ...filter.meets, [tile.id]: steps } }));
                        }}
                      />
                      <span>
                        {tile.title || tile.kind}: {words ?? "no link leads there"}
                      </span>
                    </label>
                  </li>
                );
              })}
            </ul>
            <button
              type="button"
              className="justify-self-start font-semibold text-vermilion hover:underline"
              onClick={() => change({ ...spec, filters: spec.filters.filter((f) => f.id !== filter.id) })}
            >
              Take the filter off
            </button>
          </fieldset>
        );
      })}
      {starts.length === 0 && sources.queries.length > 0 && <p className="text-soft">Add a tile first; a filter is on a field its rows reach.</p>}
      {starts.map((query) => (
        <BriefPopover
          key={query.source}
          label={`+ filter on a field of ${schema.tables.find((t) => t.name === query.source)?.label ?? query.source}`}
          className="chip justify-self-start"
        >
          {(close) => (
            <FieldPicker
              spec={{ ...query, joins: [] }}
              schema={schema}
              change={() => {}}
              close={close}
              caption="Narrow by"
              pick={(next, operand) => {
                if (operand.kind !== "field") return;
                const from = next.joins.find((j) => j.id === operand.join);
                const link = from && schema.links.find((l) => l.id === from.link);
                const table = link && from ? link[from.toward].table : query.source;
                const label = schema.tables.find((t) => t.name === table)?.columns.find((c) => c.name === operand.column)?.label ?? operand.column;
                change(addFilter(spec, { label, table, column: operand.column, default: null }, schema, queryOf));
              }}
            />
          )}
        </BriefPopover>
      ))}
    </div>
  );
}

function PageSettings({ spec, change, remove }: Props) {
  const move = (i: number, by: number) => {
    const narrow = [...spec.narrow];
    narrow.splice(i + by, 0, ...narrow.splice(i, 1));
    change({ ...spec, narrow });
  };
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
