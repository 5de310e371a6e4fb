"use client";

import { linkPanel } from "@/core/folio/panel";
import type { Panel } from "@/core/folio/spec";
import { fieldOperators, firstField } from "@/core/page/search";
import type { SearchField, SearchSpec } from "@/core/page/spec";
import { OPERATORS } from "@/core/query/operators";
import type { PlanColumn } from "@/core/query/plan";
import type { Parameter } from "@/core/query/spec";
import { type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import { moved, replaced } from "@/core/types/list";
import { BriefPopover } from "@/ui/Brief";
import { Choice, Remove } from "../editors/parts";
import { PanelBrief } from "../folio/PanelBrief";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Edit = { search: SearchSpec; change: (next: SearchSpec) => void };

function Mover({ at, count, words, move }: { at: number; count: number; words: string; move: (by: -1 | 1) => void }) {
  return (
    <>
      <button type="button" className="small-button" disabled={at === 0} aria-label={COMMON.moveUp(words)} onClick={() => move(-1)}>
        ↑
      </button>
      <button type="button" className="small-button" disabled={at + 1 >= count} aria-label={COMMON.moveDown(words)} onClick={() => move(1)}>
        ↓
      </button>
    </>
  );
}

const INPUTS = { typed: "typed", choice: COMMON.oneFromAList, several: WORDS.severalFromAList, range: WORDS.fromTo } as const;

/** What the form asks: parameters of the query, and comparisons with its columns. */
export function FormPanel({ search, change, columns, parameters }: Edit & { columns: PlanColumn[]; parameters: Parameter[] }) {
  const { fields } = search;
  const setAll = (next: SearchField[]) => change({ ...search, fields: next });
  const set = (i: number, next: SearchField | null) => setAll(replaced(fields, i, () => next));
  const absent = parameters.filter((p) => !fields.some((f) => f.kind === "parameter" && f.name === p.name));
  return (
    <div className="grid gap-4">
      {fields.map((field, i) => {
        const column = field.kind === "column" ? columns.find((c) => c.id === field.column) : undefined;
        return (
          <section key={`${field.kind} ${i}`} className="grid gap-1.5 border-b border-hairline pb-3">
            <div className="flex items-center gap-1">
              <input
                className="field"
                aria-label={WORDS.labelOfField(i + 1)}
                value={field.label}
                onChange={(e) => set(i, { ...field, label: e.target.value })}
              />
              <Mover at={i} count={fields.length} words={field.label} move={(by) => setAll(moved(fields, i, by))} />
            </div>
            {field.kind === "parameter" ? (
              <p className="text-small text-ochre">{WORDS.parameter(field.name)}</p>
            ) : (
              <>
                <select
                  className="field"
                  aria-label={WORDS.inputFor(field.label)}
                  value={field.input}
                  onChange={(e) => set(i, { ...field, input: e.target.value as "typed" })}
                >
                  {Object.entries(INPUTS).map(([value, words]) => (
                    <option key={value} value={value}>
                      {words}
                    </option>
                  ))}
                </select>
                {field.input === "typed" && column && (
                  <span className="flex flex-wrap gap-x-3 gap-y-1 text-small">
                    {fieldOperators(column.type)
                      .filter((o) => OPERATORS[o].values !== 2)
                      .map((o) => (
                        <label key={o} className="flex gap-1">
                          <input
                            type="checkbox"
                            className="accent-bottle"
                            checked={field.operators.includes(o)}
                            onChange={(e) =>
                              set(i, { ...field, operators: e.target.checked ? [...field.operators, o].slice(0, 8) : field.operators.filter((x) => x !== o) })
                            }
                          />
                          {OPERATORS[o].words(column.type)}
                        </label>
                      ))}
                  </span>
                )}
              </>
            )}
            <button type="button" className="justify-self-start text-small font-semibold text-vermilion hover:underline" onClick={() => set(i, null)}>
              {COMMON.remove}
            </button>
          </section>
        );
      })}
      {fields.length === 0 && <p className="text-soft">{WORDS.nothingAsked}</p>}
      <BriefPopover label={WORDS.addField} className="button justify-self-start">
        {(close) => (
          <>
            {absent.length > 0 && <p className="caption pb-1">{COMMON.parameters}</p>}
            {absent.map((p) => (
              <Choice
                key={p.name}
                onClick={() => {
                  close();
                  setAll([...fields, { kind: "parameter", name: p.name, label: p.name }]);
                }}
              >
                {p.name}
              </Choice>
            ))}
            <p className="caption pb-1">{COMMON.columns}</p>
            {columns.map((c) => (
              <Choice
                key={c.id}
                onClick={() => {
                  close();
                  setAll([...fields, firstField(c)]);
                }}
              >
                {c.heading}
              </Choice>
            ))}
          </>
        )}
      </BriefPopover>
      <label className="flex gap-2 text-small">
        <input type="checkbox" className="accent-bottle" checked={search.atOnce} onChange={(e) => change({ ...search, atOnce: e.target.checked })} />
        {WORDS.showRowsBeforeASearch}
      </label>
    </div>
  );
}

/** Which columns are shown, how many rows at a time; and what people who are signed in may change. */
export function ResultsPanel({ search, change, columns, table }: Edit & { columns: PlanColumn[]; table: Table | undefined }) {
  const toggle = (id: string) => {
    const next = search.columns.includes(id) ? search.columns.filter((c) => c !== id) : [...search.columns, id];
    if (next.length > 0) change({ ...search, columns: next });
  };
  const changes = search.changes ?? { roles: [], columns: [], remove: false };
  const setChanges = (next: typeof changes) => change({ ...search, changes: next.roles.length > 0 ? next : null });
  const without = <T,>(list: T[], item: T): T[] => (list.includes(item) ? list.filter((x) => x !== item) : [...list, item]);
  return (
    <div className="grid gap-4">
      <fieldset className="grid gap-0.5">
        <legend className="caption pb-1">{COMMON.columns}</legend>
        {columns.map((c) => (
          <label key={c.id} className="flex gap-2">
            <input type="checkbox" className="accent-bottle" checked={search.columns.includes(c.id)} onChange={() => toggle(c.id)} />
            {c.heading}
          </label>
        ))}
        <p className="pt-1 text-small text-soft">{WORDS.thePageNeverSendsAny}</p>
      </fieldset>
      <label className="flex items-center justify-between gap-2 text-small">
        {WORDS.rowsPerPage}
        <input
          className="field w-20"
          type="number"
          min={5}
          max={200}
          value={search.perPage}
          onChange={(e) => change({ ...search, perPage: Math.min(200, Math.max(5, Math.trunc(Number(e.target.value)))) })}
        />
      </label>
      <label className="flex gap-2 text-small">
        <input type="checkbox" className="accent-bottle" checked={search.sortable} onChange={(e) => change({ ...search, sortable: e.target.checked })} />
        {WORDS.visitorsCanSortByColumn}
      </label>
      {table && table.key.length > 0 && (
        <fieldset className="grid gap-1">
          <legend className="caption pb-1">{WORDS.editingBySignedInPeople}</legend>
          {(["analyst", "viewer"] as const).map((role) => (
            <label key={role} className="flex gap-2">
              <input
                type="checkbox"
                className="accent-bottle"
                checked={changes.roles.includes(role)}
                onChange={() => setChanges({ ...changes, roles: without(changes.roles, role) })}
              />
              {WORDS.roleCanEdit(role)}
            </label>
          ))}
          {changes.roles.length > 0 && (
            <>
              <div className="max-h-40 overflow-auto border border-hairline bg-sheet p-1.5">
                {table.columns
                  .filter((c) => !c.derived && !c.generated && !table.key.includes(c.name))
                  .map((c) => (
                    <label key={c.name} className="flex gap-2">
                      <input
                        type="checkbox"
                        className="accent-bottle"
                        checked={changes.columns.includes(c.name)}
                        onChange={() => setChanges({ ...changes, columns: without(changes.columns, c.name) })}
                      />
                      {c.label}
                    </label>
                  ))}
              </div>
              <label className="flex gap-2">
                <input
                  type="checkbox"
                  className="accent-bottle"
                  checked={changes.remove}
                  onChange={(e) => setChanges({ ...changes, remove: e.target.checked })}
                />
                {WORDS.andRemoveRows}
              </label>
              <p className="text-small text-soft">{WORDS.onlyForSignedInPeople}</p>
            </>
          )}
        </fieldset>
      )}
    </div>
  );
}

/** What is shown of one row: fields of its table, and panels of rows that belong to it. */
export function DetailsPanel({ search, change, table, schema }: Edit & { table: Table | undefined; schema: Schema }) {
  if (!table || table.key.length === 0) return <p className="text-soft">{WORDS.aFolioNeedsAQuery}</p>;
  const { details } = search;
  if (!details)
    return (
      <button
        type="button"
        className="button"
        onClick={() =>
          change({
            ...search,
            details: {
              columns: table.columns
                .filter((c) => !c.derived?.broken)
                .map((c) => c.name)
                .slice(0, 8),
              panels: [],
            },
          })
        }
      >
        {WORDS.addFolio}
      </button>
    );
  const set = (next: Partial<typeof details>) => change({ ...search, details: { ...details, ...next } });
  const setPanel = (id: string, next: Partial<Panel> | null) =>
    set({ panels: details.panels.flatMap((p) => (p.id !== id ? [p] : next ? [{ ...p, ...next }] : [])) });
  const freshId = () => {
    for (let n = 1; ; n++) if (!details.panels.some((p) => p.id === `p${n}`)) return `p${n}`;
  };
  return (
    <div className="grid gap-4">
      <fieldset className="grid gap-0.5">
        <legend className="caption pb-1">{COMMON.fieldsOf(table.label)}</legend>
        {table.columns
          .filter((c) => !c.derived?.broken)
          .map((c) => (
            <label key={c.name} className={`flex gap-2 ${c.derived ? "text-plum" : ""}`}>
              <input
                type="checkbox"
                className="accent-bottle"
                checked={details.columns.includes(c.name)}
                onChange={() => set({ columns: details.columns.includes(c.name) ? details.columns.filter((x) => x !== c.name) : [...details.columns, c.name] })}
              />
              {c.label}
            </label>
          ))}
      </fieldset>
      {details.panels.map((panel) => (
        <section key={panel.id} className="grid gap-1.5 border-t border-rule pt-3">
          <input className="field" aria-label={WORDS.panelTitle} value={panel.title} onChange={(e) => setPanel(panel.id, { title: e.target.value })} />
          <PanelBrief query={panel.query} schema={schema} parent={table} change={(query) => setPanel(panel.id, { query })} />
          <Remove onClick={() => setPanel(panel.id, null)}>{COMMON.removePanel}</Remove>
        </section>
      ))}
      <BriefPopover label={COMMON.addAPanel} className="button justify-self-start">
        {(close) =>
          stepsFrom(schema, table.name)
            .filter((s) => s.far.leadsTo === "many")
            .map(({ step, far }) => (
              <Choice
                key={`${step.link} ${step.toward}`}
                onClick={() => {
                  close();
                  const panel = linkPanel(schema, step, freshId());
                  if (panel) set({ panels: [...details.panels, panel] });
                }}
              >
                {far.name}
              </Choice>
            ))
        }
      </BriefPopover>
      <button type="button" className="link justify-self-start text-small" onClick={() => change({ ...search, details: null })}>
        {WORDS.removeFolio}
      </button>
    </div>
  );
}
