"use client";

import { useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { newRowOf, panelQuery, type RowCells } from "@/core/folio/panel";
import type { Panel } from "@/core/folio/spec";
import { defaultText, PARAMETER_TYPES } from "@/core/query/parameters";
import type { ParameterValues } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { counted } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import type { RowEdit } from "@/server/jobs/posting/edit";
import type { Entry } from "@/server/jobs/posting/journal";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { ValueInput } from "../editors/ValueInput";
import { SidePanel } from "../SidePanel";
import { NewRow } from "../tables/NewRow";
import { useMakeFrom } from "../useMakeFrom";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { keptValues } from "./keptValues";
import { PanelSettings } from "./PanelSettings";
import { PanelTable } from "./PanelTable";
import { useQueryOnce } from "./useQueryOnce";
import { WORDS } from "./words";

type Props = {
  panel: Panel;
  table: Table;
  cells: RowCells;
  schema: Schema;
  today: Today;
  first: boolean;
  heading: string;
  onChange: (next: Panel | null) => void;
  onMove: (by: -1 | 1) => void;
};

/** What this viewer gave for a panel's parameters: kept in this browser, for nobody else. */
function useOwnValues(panel: Panel, table: string): [ParameterValues, (next: ParameterValues) => void] {
  const name = `folio ${table} ${panel.id} parameters`;
  const [values, setValues] = useState<ParameterValues>({});
  useEffect(() => setValues(keptValues(localStorage.getItem(name))), [name]);
  return [
    values,
    (next) => {
      setValues(next);
      localStorage.setItem(name, JSON.stringify(next));
    },
  ];
}

/** A panel of a folio: the first rows that belong to the row, with the footing of all of them. */
export function FolioPanel({ panel, table, cells, schema, today, first, heading, onChange, onMove }: Props) {
  const locale = useLocale();
  const make = useMakeFrom();
  const [values, setValues] = useOwnValues(panel, table.name);
  const [editing, setEditing] = useState(false);
  const [adding, setAdding] = useState(false);
  const fresh = useMemo(() => newRowOf(panel, table, cells, schema), [panel, table, cells, schema]);
  const bound = useMemo(() => panelQuery(panel, table, cells, schema), [panel, table, cells, schema]);
  const { plan, rows, footing, failure, again } = useQueryOnce(bound.ok ? bound.value : null, schema, today, values, panel.first);
  const { query } = panel;
  const wrong = bound.ok ? failure : bound.problems.map(sentence).join(" ");
  // Empty, it is one line, from which its first row can be added.
  const folded = panel.hideEmpty && rows?.length === 0 && !editing && query.parameters.length === 0;
  if (folded && !fresh) return null;

  const addRow = (change: RowEdit): Promise<string | null> =>
    ask<Entry>("/api/tables/edit", { table: query.source, change }).then(
      ({ number }) => {
        const undo = () => void ask("/api/postings/reverse", { number, force: false }).then(again, (error) => toast.error(sentenceOf(error)));
        toast(WORDS.relatedAdded(panel.title), { action: { label: COMMON.undo, onClick: undo } });
        again();
        return null;
      },
      (error) => sentenceOf(error),
    );
  const openAsQuery = () => {
    if (bound.ok) void make("/api/objects", "/queries", { kind: "query", name: COMMON.partOf(panel.title, heading), spec: bound.value, numbered: true });
  };

  return (
    <section className={folded ? "pt-2" : "pt-6"}>
      <div className="flex flex-wrap items-center gap-3 pb-1">
        <h2 className={folded ? "text-soft" : "font-serif text-[1.125rem] font-semibold"}>{panel.title}</h2>
        {footing && <span className="text-small text-soft">{counted(footing.rows, "row", locale)}</span>}
        {query.parameters.map((p) => (
          <label key={p.name} className="flex items-center gap-1.5 text-small text-ochre">
            {p.name}
            <span className="w-36">
              <ValueInput
                type={PARAMETER_TYPES[p.type]}
                period={p.type === "period"}
                label={COMMON.partOf(p.name, panel.title)}
                value={values[p.name] || (defaultText(p, today) ?? "")}
                onChange={(v) => setValues({ ...values, [p.name]: v })}
              />
            </span>
          </label>
        ))}
        <span className="ml-auto flex gap-3 text-small">
          {fresh && (
            <button type="button" className="link" aria-label={WORDS.addRowTo(panel.title)} onClick={() => setAdding(true)}>
              {WORDS.addRow}
            </button>
          )}
          {!folded && (
            <button type="button" className="link" onClick={openAsQuery}>
              {WORDS.openAsQuery}
            </button>
          )}
          <button type="button" className="link" aria-expanded={editing} onClick={() => setEditing(!editing)}>
            {editing ? COMMON.done : COMMON.edit}
          </button>
        </span>
      </div>
      {editing && <PanelSettings panel={panel} parent={table} schema={schema} first={first} onChange={onChange} onMove={onMove} />}
      {fresh && adding && (
        <SidePanel title={WORDS.addRowTo(panel.title)} close={() => setAdding(false)}>
          <NewRow table={fresh.table} schema={schema} given={fresh.given} make={addRow} onDone={() => setAdding(false)} />
        </SidePanel>
      )}
      {wrong && <Notice tone="wrong">{wrong}</Notice>}
      {rows && plan && !folded && <PanelTable plan={plan} rows={rows} footing={footing} />}
    </section>
  );
}
