"use client";

import type { ReactNode } from "react";
import { toast } from "sonner";
import type { PlanParameter } from "@/core/query/plan";
import { FOOTINGS, type Footing } from "@/core/report/choices";
import { newLevel } from "@/core/report/newLevel";
import type { ReportLevel, ReportSpec } from "@/core/report/spec";
import { moved } from "@/core/types/list";
import { isNumber } from "@/core/types/valueType";
import { ask, sentenceOf } from "../ask";
import { BoundParameters } from "../editors/BoundParameters";
import { Link } from "../Link";
import { COMMON } from "../words";
import type { ReportColumn } from "./reportColumn";
import { WORDS } from "./words";

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
      {spec.levels.length === 0 && <p className="text-soft">{WORDS.noGroupsYetTheReport}</p>}
      {spec.levels.map((level, i) => (
        <section key={level.column}>
          <h3 className="caption flex justify-between pb-1">
            {WORDS.level} {i + 1}
            <span className="flex gap-2">
              {i > 0 && (
                <button
                  type="button"
                  className="small-button text-bottle"
                  aria-label={WORDS.moveLevelOutwards(i + 1)}
                  onClick={() => change({ ...spec, levels: moved(spec.levels, i, -1) })}
                >
                  ↑
                </button>
              )}
              <button
                type="button"
                className="small-button text-vermilion"
                aria-label={WORDS.removeLevel(i + 1)}
                onClick={() => change({ ...spec, levels: spec.levels.filter((_, k) => k !== i) })}
              >
                ×
              </button>
            </span>
          </h3>
          <Row label={WORDS.groupBy}>
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
          <Row label={WORDS.headingText}>
            <input className="field" value={level.heading} title={WORDS.isReplacedByTheGroups} onChange={(e) => set(i, { heading: e.target.value })} />
          </Row>
          <Row label={COMMON.order}>
            <select className="field" value={level.direction} onChange={(e) => set(i, { direction: e.target.value as "up" })}>
              <option value="up">{WORDS.ascendingAToZ}</option>
              <option value="down">{WORDS.descendingZToA}</option>
            </select>
          </Row>
          <Row label={WORDS.startOnANewPage}>
            <input type="checkbox" className="size-4 accent-bottle" checked={level.newPage} onChange={(e) => set(i, { newPage: e.target.checked })} />
          </Row>
          <Row label={WORDS.repeatHeadingOnEachPage}>
            <input type="checkbox" className="size-4 accent-bottle" checked={level.repeat} onChange={(e) => set(i, { repeat: e.target.checked })} />
          </Row>
          <Row label={WORDS.keepWithAtLeastRows}>
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
          <span className="caption">{spec.levels.length > 0 ? WORDS.thenGroupBy : WORDS.groupBy}</span>
          <select
            className="field"
            value=""
            onChange={(e) =>
              e.target.value &&
              change({ ...spec, levels: [...spec.levels, newLevel(e.target.value)], columns: spec.columns.filter((c) => c.column !== e.target.value) })
            }
          >
            <option value="">{WORDS.chooseAColumn}</option>
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
              {column?.heading ?? WORDS.missingColumn}
              <span className="flex gap-2">
                {i > 0 && (
                  <button type="button" className="small-button text-bottle" aria-label={WORDS.moveLeft(column?.heading ?? "")} onClick={() => raise(i)}>
                    ←
                  </button>
                )}
                <button
                  type="button"
                  className="small-button text-vermilion"
                  aria-label={COMMON.removeNamed(column?.heading ?? "")}
                  onClick={() => change({ ...spec, columns: spec.columns.filter((_, k) => k !== i) })}
                >
                  ×
                </button>
              </span>
            </h3>
            <Row label={WORDS.footing}>
              <select className="field" value={c.footing} onChange={(e) => set(i, { footing: e.target.value as Footing })}>
                {FOOTINGS.filter((f) => numeric || f === "none" || f === "count").map((f) => (
                  <option key={f} value={f}>
                    {FOOTING_WORDS[f]}
                  </option>
                ))}
              </select>
            </Row>
            <Row label={WORDS.widthMm}>
              <input
                type="number"
                min={5}
                max={300}
                className="field text-right"
                placeholder={WORDS.automatic}
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
          aria-label={WORDS.addColumn2}
          value=""
          onChange={(e) => e.target.value && change({ ...spec, columns: [...spec.columns, { column: e.target.value, widthMm: null, footing: "none" }] })}
        >
          <option value="">{WORDS.addColumn}</option>
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
      if (made.dropped.length > 0) toast(WORDS.columnsDropped(made.dropped.join(", ")));
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div className="grid gap-1">
      <Row label={COMMON.source}>
        <select className="field" value={spec.query} onChange={(e) => void repoint(e.target.value)}>
          {!queries.some((q) => q.id === spec.query) && <option value={spec.query}>{WORDS.deletedQuery}</option>}
          {queries.map((q) => (
            <option key={q.id} value={q.id}>
              {q.name}
            </option>
          ))}
        </select>
      </Row>
      <Link className="link py-1" href={`/queries/${spec.query}`}>
        {COMMON.openQuery}
      </Link>
      <Row label={COMMON.title}>
        <input className="field" value={spec.title} onChange={(e) => change({ ...spec, title: e.target.value })} />
      </Row>
      <Row label={WORDS.briefUnderTheTitle}>
        <input type="checkbox" className="size-4 accent-bottle" checked={spec.showBrief} onChange={(e) => change({ ...spec, showBrief: e.target.checked })} />
      </Row>
      <Row label={COMMON.rows}>
        <select className="field" value={spec.details === false ? "totals" : "rows"} onChange={(e) => change({ ...spec, details: e.target.value === "rows" })}>
          <option value="rows">{WORDS.allRowsPrinted}</option>
          <option value="totals">{WORDS.totalsOnly}</option>
        </select>
      </Row>
      <Row label={WORDS.header}>
        <input className="field" value={spec.header} onChange={(e) => change({ ...spec, header: e.target.value })} />
      </Row>
      <Row label={WORDS.footer}>
        <input className="field" value={spec.footer} onChange={(e) => change({ ...spec, footer: e.target.value })} />
      </Row>
      <Row label={WORDS.paper}>
        <select className="field" value={spec.page.paper} onChange={(e) => page({ paper: e.target.value as "A4" })}>
          <option>A4</option>
          <option>{COMMON.letter}</option>
        </select>
      </Row>
      <Row label={WORDS.landscape}>
        <input type="checkbox" className="size-4 accent-bottle" checked={spec.page.landscape} onChange={(e) => page({ landscape: e.target.checked })} />
      </Row>
      {(["top", "right", "bottom", "left"] as const).map((side) => (
        <Row key={side} label={WORDS.marginMm(side)}>
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
      <h3 className="caption pb-1">{WORDS.afterTheRows}</h3>
      {chosen.map((c, i) => (
        <p key={`${c.id} ${i}`} className="flex items-center gap-2 border-b border-hairline py-1">
          <span className="flex-1 truncate">{closings.find((o) => o.id === c.id)?.name ?? WORDS.deleted(c.kind)}</span>
          <span className="text-small text-soft">{c.kind}</span>
          <button
            type="button"
            className="small-button text-vermilion"
            aria-label={COMMON.remove}
            onClick={() => change({ ...spec, closing: chosen.filter((_, k) => k !== i) })}
          >
            ×
          </button>
        </p>
      ))}
      {closings.length > 0 && (
        <select
          className="field"
          aria-label={WORDS.printAfterTheRows}
          value=""
          onChange={(e) => {
            const found = closings.find((c) => c.id === e.target.value);
            if (found) change({ ...spec, closing: [...chosen, { kind: found.kind, id: found.id }] });
          }}
        >
          <option value="">{WORDS.addAPivotOrChart}</option>
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
