"use client";

import { useMemo } from "react";
import { toast } from "sonner";
import { EARLIER } from "@/core/chart/choices";
import { comparedWith, orderOfTile, toggleTileColumn } from "@/core/dashboard/edit";
import type { PlainTile } from "@/core/dashboard/spec";
import { AGGREGATES, firstFigure, givenBy, PLAIN_FIGURES } from "@/core/query/aggregates";
import type { AggregateName } from "@/core/query/choices";
import { capitalised } from "@/core/query/naming";
import { probeValues } from "@/core/query/parameters";
import { tableOfPlan } from "@/core/query/planTable";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { plural, type Schema, type Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { GROUP_PART_WORDS } from "@/core/types/date";
import { isNumber, whole } from "@/core/types/valueType";
import { NumberField } from "../editors/NumberField";
import { COMMON } from "../words";
import { type ArrangeProps, Labelled } from "./arrange";
import { WORDS } from "./words";

type Kind<K extends PlainTile["kind"]> = Extract<PlainTile, { kind: K }>;
type Props<T> = { tile: T; set: (next: PlainTile) => void };

/** The query's columns as fields, as far as it can be resolved. */
function useFields(schema: Schema, query: QuerySpec | null, today: Today): Table | null {
  return useMemo(() => {
    const resolved = query && resolveQuery(query, schema, { today, values: probeValues(query.parameters) });
    return resolved?.ok ? tableOfPlan(resolved.value) : null;
  }, [schema, query, today]);
}

/** The settings that a tile has by its kind. */
export function KindSettings({ tile, set, sources, ownQuery, schema, today, queryOf }: ArrangeProps & Props<PlainTile>) {
  const table = useFields(schema, queryOf(tile), today);
  switch (tile.kind) {
    case "figure":
      return (
        <>
          <SourceChoice
            label={COMMON.source}
            tile={tile}
            list={sources.queries}
            value={tile.query}
            choose={(query, title) => set({ ...tile, title, query, figure: COUNT })}
            tables={schema.tables}
            ownQuery={ownQuery}
          />
          <FigureSettings tile={tile} set={set} table={table} />
        </>
      );
    case "chart":
      return (
        <SourceChoice label={COMMON.chart} tile={tile} list={sources.charts} value={tile.chart} choose={(chart, title) => set({ ...tile, title, chart })} />
      );
    case "pivot":
      return (
        <SourceChoice label={WORDS.pivot} tile={tile} list={sources.pivots} value={tile.pivot} choose={(pivot, title) => set({ ...tile, title, pivot })} />
      );
    case "table":
      return (
        <>
          <SourceChoice
            label={COMMON.source}
            tile={tile}
            list={sources.queries}
            value={tile.query}
            choose={(query, title) => set({ ...tile, title, query, columns: [], order: null })}
            tables={schema.tables}
            ownQuery={ownQuery}
          />
          <TableSettings tile={tile} set={set} table={table} />
        </>
      );
    case "text":
      return (
        <Labelled label={WORDS.textTodayFiltersViewerAnd}>
          <textarea className="field h-28" aria-label={COMMON.text} value={tile.text} onChange={(e) => set({ ...tile, text: e.target.value })} />
        </Labelled>
      );
    case "picture":
      return <PictureSettings tile={tile} set={set} />;
    default:
      return tile satisfies never;
  }
}

const COUNT: Kind<"figure">["figure"] = { id: "f", value: null, figure: "count", showAs: "asIs" };

type Named = { id: string; name: string };
type SourceChoiceProps = {
  label: string;
  tile: PlainTile;
  list: Named[];
  value: string;
  choose: (id: string, title: string) => void;
  /** Tables that a query of its own can be made over. */
  tables?: Table[];
  ownQuery?: ArrangeProps["ownQuery"];
};

/** What the choice of a table begins with, to be told from the id of a query. */
const TABLE = "table ";

/** What a tile is made from. A tile that bears its source's name takes that of the new one. */
function SourceChoice({ label, tile, list, value, choose, tables = [], ownQuery }: SourceChoiceProps) {
  const nameOf = (id: string) => list.find((o) => o.id === id)?.name;
  const titleFor = (id: string) => (tile.title === nameOf(value) ? (nameOf(id) ?? tile.title) : tile.title);
  return (
    <Labelled label={label}>
      <select
        className="field"
        aria-label={label}
        value={value}
        onChange={async (e) => {
          const chosen = e.target.value;
          if (!chosen.startsWith(TABLE)) return choose(chosen, titleFor(chosen));
          const table = tables.find((t) => TABLE + t.name === chosen);
          const own = table && (await ownQuery?.(table.name));
          if (own !== undefined) choose(own, tile.title === nameOf(value) ? capitalised(plural(table?.label ?? "")) : tile.title);
        }}
      >
        {!list.some((o) => o.id === value) && <option value={value}>{WORDS.deleted}</option>}
        {list.map((o) => (
          <option key={o.id} value={o.id}>
            {o.name}
          </option>
        ))}
        {tables.length > 0 && (
          <optgroup label={COMMON.orFromTable}>
            {tables.map((t) => (
              <option key={t.name} value={TABLE + t.name}>
                {t.label}
              </option>
            ))}
          </optgroup>
        )}
      </select>
    </Labelled>
  );
}

function FigureSettings({ tile, set, table }: Props<Kind<"figure">> & { table: Table | null }) {
  return (
    <>
      <FigureChoice tile={tile} set={set} table={table} />
      <Labelled label={COMMON.compareWith}>
        <select
          className="field"
          aria-label={COMMON.compareWith}
          value={tile.compare?.kind === "earlier" ? tile.compare.by : (tile.compare?.kind ?? "")}
          onChange={(e) => set({ ...tile, compare: comparedWith(e.target.value) })}
        >
          <option value="">{COMMON.nothing}</option>
          {EARLIER.map((by) => (
            <option key={by} value={by}>
              {WORDS.thePrevious(GROUP_PART_WORDS[by])}
            </option>
          ))}
          <option value="target">{WORDS.target}</option>
        </select>
      </Labelled>
      {tile.compare?.kind === "target" && (
        <Labelled label={COMMON.target}>
          <NumberField label={COMMON.target} value={tile.compare.value} onChange={(value) => set({ ...tile, compare: { kind: "target", value } })} />
        </Labelled>
      )}
      <label className="flex gap-2">
        <input type="checkbox" className="accent-bottle" checked={tile.lessIsBetter} onChange={(e) => set({ ...tile, lessIsBetter: e.target.checked })} />
        {WORDS.lowerIsBetter}
      </label>
    </>
  );
}

function TableSettings({ tile, set, table }: Props<Kind<"table">> & { table: Table | null }) {
  const all = table?.columns.map((c) => c.name) ?? [];
  return (
    <>
      <Labelled label={WORDS.rowsShown}>
        <input
          type="number"
          min={1}
          max={500}
          className="field"
          value={tile.first}
          onChange={(e) => set({ ...tile, first: Math.max(1, Math.min(500, Math.trunc(Number(e.target.value) || 1))) })}
        />
      </Labelled>
      <Labelled label={COMMON.order}>
        <select
          className="field"
          value={tile.order ? `${tile.order.direction} ${tile.order.column}` : ""}
          onChange={(e) => set({ ...tile, order: orderOfTile(e.target.value) })}
        >
          <option value="">{WORDS.asInTheQuery}</option>
          {table?.columns.flatMap((c) =>
            (["up", "down"] as const).map((direction) => (
              <option key={`${direction} ${c.name}`} value={`${direction} ${c.name}`}>
                {c.label}, {direction}
              </option>
            )),
          )}
        </select>
      </Labelled>
      <fieldset>
        <legend className="text-small text-soft">{COMMON.columns}</legend>
        {table?.columns.map((c) => (
          <label key={c.name} className="flex gap-2">
            <input
              type="checkbox"
              className="accent-bottle"
              checked={tile.columns.length === 0 || tile.columns.includes(c.name)}
              onChange={() => set({ ...tile, columns: toggleTileColumn(tile.columns, all, c.name) })}
            />
            {c.label}
          </label>
        ))}
      </fieldset>
      <label className="flex gap-2">
        <input type="checkbox" className="accent-bottle" checked={tile.search} onChange={(e) => set({ ...tile, search: e.target.checked })} />
        {WORDS.searchBox}
      </label>
    </>
  );
}

function PictureSettings({ tile, set }: Props<Kind<"picture">>) {
  return (
    <>
      <Labelled label={WORDS.picturePNGJPEGOrWebP}>
        <input type="file" accept="image/png,image/jpeg,image/webp" onChange={(e) => readPicture(e.target.files?.[0], (source) => set({ ...tile, source }))} />
      </Labelled>
      <Labelled label={WORDS.alternativeText}>
        <input className="field" value={tile.alt} onChange={(e) => set({ ...tile, alt: e.target.value })} />
      </Labelled>
    </>
  );
}

const MOST_PICTURE_BYTES = 500_000;

function readPicture(file: File | undefined, use: (source: string) => void): void {
  if (!file) return;
  if (file.size > MOST_PICTURE_BYTES) return void toast.error(WORDS.pictureTooLarge(Math.round(file.size / 1000)));
  const reader = new FileReader();
  reader.onload = () => use(String(reader.result));
  reader.readAsDataURL(file);
}

function FigureChoice({ tile, set, table }: Props<Kind<"figure">> & { table: Table | null }) {
  const { figure } = tile;
  const column = figure.value?.kind === "field" ? table?.columns.find((c) => c.name === (figure.value as { column: string }).column) : undefined;
  const names = (Object.keys(AGGREGATES) as AggregateName[]).filter(
    (n) => PLAIN_FIGURES.includes(n) && (column ? AGGREGATES[n].takes(column.type) : n === "count"),
  );
  return (
    <>
      <Labelled label={WORDS.ofColumn}>
        <select
          className="field"
          aria-label={WORDS.ofColumn}
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
          <option value="">{WORDS.theRows}</option>
          {table?.columns.map((c) => (
            <option key={c.name} value={c.name}>
              {c.label}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label={COMMON.figure}>
        <select
          className="field"
          aria-label={COMMON.figure}
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
      {isNumber(givenBy(figure.figure, column?.type ?? whole)) && (
        <Labelled label={WORDS.decimalPlacesEmptyAsStored}>
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
