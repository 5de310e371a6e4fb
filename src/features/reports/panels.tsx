"use client";

import type { ReactNode } from "react";
import { toast } from "sonner";
import type { PlanParameter } from "@/core/query/plan";
import { FOOTINGS, type Footing, newLevel, type ReportLevel, type ReportSpec } from "@/core/report/spec";
import { moved } from "@/core/types/list";
import { isNumber } from "@/core/types/valueType";
import { ask, sentenceOf } from "../ask";
import { BoundParameters } from "../BoundParameters";
import { Link } from "../Link";
import type { ReportColumn } from "./ReportPage";

type Props = { spec: ReportSpec; change: (next: ReportSpec) => void; columns: ReportColumn[] };

const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="flex items-center justify-between gap-3 border-b border-hairline py-1">
    <span>{label}</span>
    <span className="w-32 shrink-0 text-right">{children}</span>
  </label>
);

/** The group levels of a report, outermost first. */
export function GroupPanel({ spec, change, columns }: Props) {
  const set = (i: number, next: Partial<ReportLevel>) => change({ ...spec, levels: spec.levels.map((l, k) => (k === i ? { ...l, ...next } : l)) });
  const free = columns.filter((c) => !spec.levels.some((l) => l.column === c.id));
  return (
    <div className="grid gap-5">
      {spec.levels.length === 0 && <p className="text-soft">No groups yet: the report is one list of rows.</p>}
      {spec.levels.map((level, i) => (
        <section key={level.column}>
          <h3 className="caption flex justify-between pb-1">
            Level {i + 1}
            <span className="flex gap-2">
              {i > 0 && (
                <button
                  type="button"
                  className="small-button text-bottle"
                  aria-label={`Move level ${i + 1} out`}
                  onClick={() => change({ ...spec, levels: moved(spec.levels, i, -1) })}
                >
                  ↑
                </button>
              )}
              <button
                type="button"
                className="small-button text-vermilion"
                aria-label={`Remove level ${i + 1}`}
                onClick={() => change({ ...spec, levels: spec.levels.filter((_, k) => k !== i) })}
              >
                ×
              </button>
            </span>
          </h3>
          <Row label="Group on">
            <select className="field" value={level.column} onChange={(e) => set(i, { column: e.target.value })}>
              {columns
                .filter((c) => c.id === level.column || free.includes(c))
                .map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.heading}
                  </option>
                ))}
            </select>
          </Row>
          <Row label="Heading reads">
            <input className="field" value={level.heading} title="{} stands for the group’s value" onChange={(e) => set(i, { heading: e.target.value })} />
          </Row>
          <Row label="Order">
            <select className="field" value={level.direction} onChange={(e) => set(i, { direction: e.target.value as "up" })}>
              <option value="up">up, A to Z</option>
              <option value="down">down, Z to A</option>
            </select>
          </Row>
          <Row label="Starts on a new page">
            <input type="checkbox" className="size-4 accent-bottle" checked={level.newPage} onChange={(e) => set(i, { newPage: e.target.checked })} />
          </Row>
          <Row label="Heading again over a page">
            <input type="checkbox" className="size-4 accent-bottle" checked={level.repeat} onChange={(e) => set(i, { repeat: e.target.checked })} />
          </Row>
          <Row label="Heading keeps rows">
            <input
              type="number"
              min={1}
              max={20}
              className="field text-right"
              value={level.keepRows}
              onChange={(e) => set(i, { keepRows: Math.max(1, Math.min(20, Math.trunc(Number(e.target.value) || 1))) })}
            />
          </Row>
        </section>
      ))}
      {free.length > 0 && (
        <label className="grid gap-1">
          <span className="caption">{spec.levels.length > 0 ? "Group within these on" : "Group on"}</span>
          <select
            className="field"
            value=""
            onChange={(e) =>
              e.target.value &&
              change({ ...spec, levels: [...spec.levels, newLevel(e.target.value)], columns: spec.columns.filter((c) => c.column !== e.target.value) })
            }
          >
            <option value="">choose a column…</option>
            {free.map((c) => (
              <option key={c.id} value={c.id}>
                {c.heading}
              </option>
            ))}
          </select>
        </label>
      )}
    </div>
  );
}

const FOOTING_WORDS: Record<Footing, string> = { none: "nothing", total: "total", count: "count", average: "average" };

/** The columns of a report, their widths, and what their footings say. */
export function ColumnsPanel({ spec, change, columns }: Props) {
  const set = (i: number, next: Partial<ReportSpec["columns"][number]>) =>
    change({ ...spec, columns: spec.columns.map((c, k) => (k === i ? { ...c, ...next } : c)) });
  const raise = (i: number) => change({ ...spec, columns: moved(spec.columns, i, -1) });
  const left = columns.filter((c) => !spec.columns.some((x) => x.column === c.id));
  return (
    <div className="grid gap-4">
      {spec.columns.map((c, i) => {
        const column = columns.find((x) => x.id === c.column);
        const numeric = column ? isNumber(column.type) : true;
        return (
          <section key={c.column}>
            <h3 className="flex justify-between font-semibold">
              {column?.heading ?? "A column that is gone"}
              <span className="flex gap-2">
                {i > 0 && (
                  <button type="button" className="small-button text-bottle" aria-label={`Move ${column?.heading} to the left`} onClick={() => raise(i)}>
                    ←
                  </button>
                )}
                <button
                  type="button"
                  className="small-button text-vermilion"
                  aria-label={`Leave out ${column?.heading}`}
                  onClick={() => change({ ...spec, columns: spec.columns.filter((_, k) => k !== i) })}
                >
                  ×
                </button>
              </span>
            </h3>
            <Row label="Footing">
              <select className="field" value={c.footing} onChange={(e) => set(i, { footing: e.target.value as Footing })}>
                {FOOTINGS.filter((f) => numeric || f === "none" || f === "count").map((f) => (
                  <option key={f} value={f}>
                    {FOOTING_WORDS[f]}
                  </option>
                ))}
              </select>
            </Row>
            <Row label="Width, mm">
              <input
                type="number"
                min={5}
                max={300}
                className="field text-right"
                placeholder="as needed"
                value={c.widthMm ?? ""}
                onChange={(e) => set(i, { widthMm: e.target.value === "" ? null : Math.max(5, Math.min(300, Number(e.target.value))) })}
              />
            </Row>
          </section>
        );
      })}
      {left.length > 0 && (
        <select
          className="field"
          aria-label="Add a column"
          value=""
          onChange={(e) => e.target.value && change({ ...spec, columns: [...spec.columns, { column: e.target.value, widthMm: null, footing: "none" }] })}
        >
          <option value="">add a column…</option>
          {left.map((c) => (
            <option key={c.id} value={c.id}>
              {c.heading}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}

/** Paper, margins, texts around the rows, and the parameters the report binds. */
export function PagePanel({
  spec,
  change,
  queries,
  closings,
  parameters,
}: Props & { queries: { id: string; name: string }[]; closings: Closing[]; parameters: PlanParameter[] }) {
  const page = (next: Partial<ReportSpec["page"]>) => change({ ...spec, page: { ...spec.page, ...next } });
  async function repoint(query: string): Promise<void> {
    try {
      const made = await ask<{ spec: ReportSpec; dropped: string[] }>("/api/report/repoint", { spec, query });
      change(made.spec);
      if (made.dropped.length > 0) toast(`This query has no ${made.dropped.join(", ")}. The report no longer shows them; undo brings them back.`);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div className="grid gap-1">
      <Row label="Made from">
        <select className="field" value={spec.query} onChange={(e) => void repoint(e.target.value)}>
          {!queries.some((q) => q.id === spec.query) && <option value={spec.query}>a query that is gone</option>}
          {queries.map((q) => (
            <option key={q.id} value={q.id}>
              {q.name}
            </option>
          ))}
        </select>
      </Row>
      <Link className="link py-1" href={`/queries/${spec.query}`}>
        Open its query
      </Link>
      <Row label="Title">
        <input className="field" value={spec.title} onChange={(e) => change({ ...spec, title: e.target.value })} />
      </Row>
      <Row label="Brief under the title">
        <input type="checkbox" className="size-4 accent-bottle" checked={spec.showBrief} onChange={(e) => change({ ...spec, showBrief: e.target.checked })} />
      </Row>
      <Row label="Header">
        <input className="field" value={spec.header} onChange={(e) => change({ ...spec, header: e.target.value })} />
      </Row>
      <Row label="Footer">
        <input className="field" value={spec.footer} onChange={(e) => change({ ...spec, footer: e.target.value })} />
      </Row>
      <Row label="Paper">
        <select className="field" value={spec.page.paper} onChange={(e) => page({ paper: e.target.value as "A4" })}>
          <option>A4</option>
          <option>Letter</option>
        </select>
      </Row>
      <Row label="Sideways">
        <input type="checkbox" className="size-4 accent-bottle" checked={spec.page.landscape} onChange={(e) => page({ landscape: e.target.checked })} />
      </Row>
      {(["top", "right", "bottom", "left"] as const).map((side) => (
        <Row key={side} label={`Margin ${side}, mm`}>
          <input
            type="number"
            min={0}
            max={100}
            className="field text-right"
            value={spec.page.margins[side]}
            onChange={(e) => page({ margins: { ...spec.page.margins, [side]: Math.max(0, Math.min(100, Number(e.target.value))) } })}
          />
        </Row>
      ))}
      <ClosingPieces spec={spec} change={change} closings={closings} />
      <div className="pt-4">
        <BoundParameters parameters={parameters} bound={spec.parameters} change={(bound) => change({ ...spec, parameters: bound })} />
      </div>
    </div>
  );
}

/** A pivot or a chart that can be printed after a report's rows. */
export type Closing = { kind: "pivot" | "chart"; id: string; name: string };

function ClosingPieces({ spec, change, closings }: Pick<Props, "spec" | "change"> & { closings: Closing[] }) {
  const chosen = spec.closing ?? [];
  return (
    <section className="grid gap-1 pt-4">
      <h3 className="caption pb-1">After the rows</h3>
      {chosen.map((c, i) => (
        <p key={`${c.id} ${i}`} className="flex items-center gap-2 border-b border-hairline py-1">
          <span className="flex-1 truncate">{closings.find((o) => o.id === c.id)?.name ?? `a ${c.kind} that is gone`}</span>
          <span className="text-small text-soft">{c.kind}</span>
          <button
            type="button"
            className="small-button text-vermilion"
            aria-label="Take it off"
            onClick={() => change({ ...spec, closing: chosen.filter((_, k) => k !== i) })}
          >
            ×
          </button>
        </p>
      ))}
      {closings.length > 0 && (
        <select
          className="field"
          aria-label="Print after the rows"
          value=""
          onChange={(e) => {
            const found = closings.find((c) => c.id === e.target.value);
            if (found) change({ ...spec, closing: [...chosen, { kind: found.kind, id: found.id }] });
          }}
        >
          <option value="">print a pivot or a chart…</option>
          {closings.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}, {c.kind}
            </option>
          ))}
        </select>
      )}
    </section>
  );
}
