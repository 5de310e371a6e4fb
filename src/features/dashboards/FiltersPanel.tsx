"use client";

import { addFilter, changeFilter } from "@/core/dashboard/edit";
import { filterColumn, proposeMeeting } from "@/core/dashboard/filters";
import { type PlainTile, plainTiles } from "@/core/dashboard/spec";
import type { QuerySpec } from "@/core/query/spec";
import { BriefPopover } from "@/ui/Brief";
import { FieldPicker } from "../queries/editors/parts";
import { Labelled, type ArrangeProps as Props } from "./arrange";
import { FilterEditor } from "./FilterEditor";

/** The filters: what each is on, what it shows at first, and how it meets each tile. */
export function FiltersPanel({ spec, change, schema, sources, queryOf }: Props) {
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
                    asks={null}
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
