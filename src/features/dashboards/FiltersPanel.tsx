"use client";

import { meetingWords } from "@/core/brief/dashboardBrief";
import { addFilter, changeFilter } from "@/core/dashboard/edit";
import { filterColumn, proposeMeeting } from "@/core/dashboard/filters";
import type { DashboardFilter, Meeting, PlainTile } from "@/core/dashboard/spec";
import { plainTiles } from "@/core/dashboard/tiles";
import { stepsToJoin, tableOf } from "@/core/query/edit";
import type { QuerySpec } from "@/core/query/spec";
import { findColumn, findTable, type Schema, type Step } from "@/core/schema/schema";
import { isComparable, type ValueType } from "@/core/types/valueType";
import { BriefPopover } from "@/ui/Brief";
import { FieldPicker } from "../editors/parts";
import { COMMON } from "../words";
import { Labelled, type ArrangeProps as Props } from "./arrange";
import { FilterEditor } from "./FilterEditor";
import { askChoices } from "./useTile";
import { WORDS } from "./words";

type Walked = { steps: Step[]; table: string; column: string };
type WalkPickerProps = {
  query: QuerySpec;
  schema: Schema;
  close: () => void;
  caption: string;
  only?: (type: ValueType) => boolean;
  pick: (field: Walked) => void;
};

/** Picks a field that the rows of a query's source reach by links, with the walk to it. */
const WalkPicker = ({ query, pick, ...rest }: WalkPickerProps) => (
  <FieldPicker
    {...rest}
    spec={{ ...query, joins: [] }}
    change={() => {}}
    pick={(next, operand) => {
      if (operand.kind !== "field") return;
      const table = tableOf(next, rest.schema, operand.join) ?? query.source;
      pick({ steps: stepsToJoin(next, operand.join), table, column: operand.column });
    }}
  />
);

/** How a filter meets one tile: as proposed, in another field of its kind, or not at all. */
function MeetingLine({
  tile,
  query,
  filter,
  schema,
  set,
}: {
  tile: PlainTile;
  query: QuerySpec;
  filter: DashboardFilter;
  schema: Schema;
  set: (meeting: Meeting | null) => void;
}) {
  const meeting = filter.meets[tile.id] ?? null;
  const proposed = meeting ?? proposeMeeting(schema, query, filter);
  const column = filterColumn(schema, filter);
  const title = tile.title || tile.kind;
  const words = proposed ? meetingWords(schema, query, filter, proposed) : WORDS.notLinked;
  return (
    <li className="flex items-start gap-1.5">
      <label className={`flex min-w-0 flex-1 items-start gap-2 ${proposed ? "" : "text-soft"}`}>
        <input
          type="checkbox"
          className="mt-0.5 accent-bottle"
          disabled={!proposed}
          checked={meeting !== null}
          onChange={(e) => set(e.target.checked ? proposed : null)}
        />
        <span>
          {title}: {words}
        </span>
      </label>
      {column && (
        <BriefPopover label={WORDS.chooseAField} name={WORDS.chooseFieldInTile(title, filter.label)} className="link min-h-6 text-small whitespace-nowrap">
          {(close) => (
            <WalkPicker
              query={query}
              schema={schema}
              close={close}
              caption={WORDS.fieldInTile(title, filter.label)}
              only={(type) => isComparable(type, column.type)}
              pick={({ steps, column: name }) => set({ steps, column: name })}
            />
          )}
        </BriefPopover>
      )}
    </li>
  );
}

/** The filters: what each is on, what it shows at first, and how it meets each tile. */
export function FiltersPanel({ spec, change, schema, sources, queryOf }: Props) {
  const tiles = plainTiles(spec).filter((t) => queryOf(t) !== null);
  const starts = [...new Map(tiles.flatMap((t) => (queryOf(t) ? [[queryOf(t)?.source, queryOf(t)]] : []) as [string, QuerySpec][])).values()];
  return (
    <div className="grid gap-5">
      {spec.filters.length === 0 && <p className="text-soft">{WORDS.noFiltersYetAFilter}</p>}
      {spec.filters.map((filter) => {
        const column = filterColumn(schema, filter);
        return (
          <fieldset key={filter.id} className="grid gap-2 border-b border-hairline pb-3">
            <legend className="sr-only">{filter.label}</legend>
            <Labelled label={WORDS.label}>
              <input
                className="field"
                aria-label={WORDS.label}
                value={filter.label}
                onChange={(e) => e.target.value && change(changeFilter(spec, filter.id, { label: e.target.value }))}
              />
            </Labelled>
            <p className="text-small text-soft">
              {filter.table} › {column?.label ?? COMMON.aMissingColumn}
            </p>
            {column && (
              <BriefPopover label={filter.default === null ? WORDS.noDefault : WORDS.hasADefault} className="chip justify-self-start">
                {(close) => (
                  <FilterEditor
                    choices={() => askChoices(spec, null, filter.id)}
                    filter={filter}
                    type={column.type}
                    value={filter.default}
                    change={(v) => change(changeFilter(spec, filter.id, { default: v }))}
                    close={close}
                  />
                )}
              </BriefPopover>
            )}
            {(column?.type.kind === "text" || column?.type.kind === "whole") && (
              <label className="flex gap-2 text-small">
                <input
                  type="checkbox"
                  className="accent-bottle"
                  checked={filter.default?.kind === "person"}
                  onChange={(e) => change(changeFilter(spec, filter.id, { default: e.target.checked ? { kind: "person" } : null }))}
                />
                {WORDS.defaultTheViewersOwnRows}
              </label>
            )}
            <ul className="text-small">
              {tiles.map((tile) => {
                const query = queryOf(tile);
                const set = (meeting: Meeting | null) => change(changeFilter(spec, filter.id, { meets: { ...filter.meets, [tile.id]: meeting } }));
                return query && <MeetingLine key={tile.id} {...{ tile, query, filter, schema, set }} />;
              })}
            </ul>
            <button
              type="button"
              className="justify-self-start font-semibold text-vermilion hover:underline"
              onClick={() => change({ ...spec, filters: spec.filters.filter((f) => f.id !== filter.id) })}
            >
              {WORDS.removeFilter}
            </button>
          </fieldset>
        );
      })}
      {starts.length === 0 && sources.queries.length > 0 && <p className="text-soft">{WORDS.addATileFirstA}</p>}
      {starts.map((query) => (
        <BriefPopover
          key={query.source}
          label={WORDS.filterByAFieldOf(findTable(schema, query.source)?.label ?? query.source)}
          className="chip justify-self-start"
        >
          {(close) => (
            <WalkPicker
              query={query}
              schema={schema}
              close={close}
              caption={WORDS.filterBy}
              pick={({ steps, table, column }) => {
                const found = findTable(schema, table);
                const label = (found && findColumn(found, column)?.label) ?? column;
                change(addFilter(spec, { label, table, column, default: null }, schema, queryOf, { source: query.source, steps }));
              }}
            />
          )}
        </BriefPopover>
      ))}
    </div>
  );
}
