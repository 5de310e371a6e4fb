"use client";

import { useRouter } from "next/navigation";
import { useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { panelQuery, type RowCells } from "@/core/folio/panel";
import type { Panel } from "@/core/folio/spec";
import { defaultText, PARAMETER_TYPES } from "@/core/query/operands";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { isNumber } from "@/core/types/valueType";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { Remove } from "../queries/editors/parts";
import { ValueInput } from "../queries/editors/ValueInput";
import { useLocale } from "../shell/Shell";
import { PanelBrief } from "./PanelBrief";
import { useQueryOnce } from "./useQueryOnce";

type Props = {
  panel: Panel;
  table: Table;
  cells: RowCells;
  schema: Schema;
  today: string;
  first: boolean;
  heading: string;
  onChange: (next: Panel | null) => void;
  onMove: (by: -1 | 1) => void;
};

/** What this viewer gave for a panel's parameters: kept in this browser, for nobody else. */
function useOwnValues(panel: Panel, table: string): [ParameterValues, (next: ParameterValues) => void] {
  const name = `folio ${table} ${panel.id} parameters`;
  const [values, setValues] = useState<ParameterValues>({});
  useEffect(() => setValues(JSON.parse(localStorage.getItem(name) ?? "{}") as ParameterValues), [name]);
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
  const router = useRouter();
  const [values, setValues] = useOwnValues(panel, table.name);
  const [editing, setEditing] = useState(false);
  const bound = useMemo(() => panelQuery(panel, table, cells, schema), [panel, table, cells, schema]);
  const { plan, rows, footing, failure } = useQueryOnce(bound.ok ? bound.value : null, schema, today, values, panel.first);
  const { query } = panel;
  const change = (next: QuerySpec) => onChange({ ...panel, query: next });
  const wrong = bound.ok ? failure : bound.problems.map(sentence).join(" ");
  if (panel.hideEmpty && rows?.length === 0 && !editing && query.parameters.length === 0) return null;

  async function openAsQuery(): Promise<void> {
    if (!bound.ok) return;
    try {
      const made = await ask<{ id: string }>("/api/objects", { kind: "query", name: `${panel.title} of ${heading}`, spec: bound.value });
      router.push(`/queries/${made.id}`);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }

  const shown = plan?.columns.flatMap((c, at) => (c.hidden ? [] : [{ column: c, at, write: cellWriter(c.type, c.format, locale) }])) ?? [];
  return (
    <section className="pt-6">
      <div className="flex flex-wrap items-center gap-3 pb-1">
        <h2 className="font-serif text-[1.125rem] font-semibold">{panel.title}</h2>
        {footing && <span className="text-small text-soft">{counted(footing.rows, "row", locale)}</span>}
        {query.parameters.map((p) => (
          <label key={p.name} className="flex items-center gap-1.5 text-small text-ochre">
            {p.name}
            <span className="w-36">
              <ValueInput
                type={PARAMETER_TYPES[p.type]}
                label={`${p.name} of ${panel.title}`}
                value={values[p.name] || (defaultText(p, today) ?? "")}
                onChange={(v) => setValues({ ...values, [p.name]: v })}
              />
            </span>
          </label>
        ))}
        <span className="ml-auto flex gap-3 text-small">
          <button type="button" className="link" onClick={openAsQuery}>
            Open as a query
          </button>
          <button type="button" className="link" aria-expanded={editing} onClick={() => setEditing(!editing)}>
            {editing ? "Done" : "Change"}
          </button>
        </span>
      </div>
      {editing && (
        <div className="mb-2 grid gap-2 border border-rule bg-sheet p-3">
          <div className="flex flex-wrap items-end gap-3">
            <label className="grid gap-0.5 text-small">
              Title
              <input className="field w-56" value={panel.title} onChange={(e) => onChange({ ...panel, title: e.target.value })} />
            </label>
            <label className="grid gap-0.5 text-small">
              First rows shown
              <input
                className="field w-20"
                type="number"
                min={1}
                max={200}
                value={panel.first}
                onChange={(e) => onChange({ ...panel, first: Math.min(200, Math.max(1, Math.trunc(Number(e.target.value)))) })}
              />
            </label>
            <label className="flex items-center gap-1.5 text-small">
              <input
                type="checkbox"
                className="accent-bottle"
                checked={panel.hideEmpty}
                onChange={(e) => onChange({ ...panel, hideEmpty: e.target.checked })}
              />
              hidden when empty
            </label>
            {panel.match.kind === "same" && (
              <label className="flex items-center gap-1.5 text-small">
                <input
                  type="checkbox"
                  className="accent-bottle"
                  checked={panel.match.itself}
                  onChange={(e) => panel.match.kind === "same" && onChange({ ...panel, match: { ...panel.match, itself: e.target.checked } })}
                />
                the row itself among them
              </label>
            )}
            <button type="button" className="button" disabled={first} onClick={() => onMove(-1)} aria-label="Move the panel up">
              ↑
            </button>
            <button type="button" className="button" onClick={() => onMove(1)} aria-label="Move the panel down">
              ↓
            </button>
            <Remove onClick={() => onChange(null)}>Remove the panel</Remove>
          </div>
          <PanelBrief query={query} schema={schema} parent={table} change={change} />
        </div>
      )}
      {wrong && <Notice tone="wrong">{wrong}</Notice>}
      {rows && plan && (
        <div className="overflow-auto border border-rule bg-sheet">
          <table className="w-full">
            <thead>
              <tr className="border-b border-ink text-left text-small">
                {shown.map(({ column }) => (
                  <th
                    key={column.id}
                    className={`border-r border-column px-2.5 py-1.5 ${isNumber(column.type) ? "text-right" : ""} ${column.derived ? "text-plum" : ""}`}
                  >
                    {column.heading}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row, i) => (
                <tr key={`row ${i}`} className="border-b border-hairline">
                  {shown.map(({ column, at, write }) => {
                    const written = write(row[at] ?? null);
                    return (
                      <td
                        key={column.id}
                        className={`border-r border-column px-2.5 py-1 ${isNumber(column.type) ? "text-right" : ""} ${written.negative || written.misfit ? "text-vermilion" : ""}`}
                      >
                        {written.text}
                      </td>
                    );
                  })}
                </tr>
              ))}
              {rows.length === 0 && (
                <tr>
                  <td className="px-2.5 py-2 text-soft" colSpan={shown.length}>
                    No row.
                  </td>
                </tr>
              )}
            </tbody>
            {footing && rows.length > 0 && (
              <tfoot>
                <tr className="border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]">
                  {shown.map(({ column, write }, i) => {
                    const total = column.id in footing.totals ? write(footing.totals[column.id] ?? null).text : "";
                    const count =
                      i === 0
                        ? footing.rows > rows.length
                          ? `${writeCount(rows.length, locale)} of ${writeCount(footing.rows, locale)}`
                          : writeCount(footing.rows, locale)
                        : "";
                    return (
                      <td key={column.id} className={`border-r border-column px-2.5 py-1 ${isNumber(column.type) && total ? "text-right" : ""}`}>
                        {total || count}
                      </td>
                    );
                  })}
                </tr>
              </tfoot>
            )}
          </table>
        </div>
      )}
    </section>
  );
}
