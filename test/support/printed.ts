import type { QuerySpec } from "@/core/query/spec";
import type { ReadInsert } from "@/core/report/inserts";
import { type LayoutInput, layOutReport, measureReport, type ReportOutline } from "@/core/report/layOut";
import type { Metrics, Page } from "@/core/report/page";
import { planReport, type ReportPlan } from "@/core/report/plan";
import type { ReadRelated } from "@/core/report/relatedRows";
import type { ReportSpec } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import type { Cell } from "@/core/types/valueType";

/* Reports laid out in tests without a database: rows are given by the columns of the query. */

export const plainMetrics: Metrics = { width: (words, _font, size) => words.length * size * 0.5 };
export const context = { today: usualDay("2026-11-23"), values: {} };

export function planned(spec: ReportSpec, query: QuerySpec, schema: Schema): ReportPlan {
  const checked = planReport(spec, query, schema, context);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  return checked.value;
}

/** Rows as the engine reads them for a plan, of values by the query's columns: keys and values of the report have their columns'. */
export function rowsFor(report: ReportPlan, records: Record<string, Cell>[]): Cell[][] {
  const source = (id: string): string => {
    const level = report.levels.find((l) => id === `level ${l.spec.id}`)?.spec.value;
    const column = report.spec.columns.find((c) => id === `value ${c.id}`)?.value;
    const value = level ?? column;
    return value?.kind === "field" ? value.column : id.replace(/^(source|field|key \S+) +/, "");
  };
  return records.map((record) => report.rows.columns.map((c) => record[source(c.id)] ?? null));
}

const none: ReadRelated = () => ({ columns: [], rows: [], keys: () => null });
/** A report under test has no charts of its groups, unless it says how they are read. */
const noInsert: ReadInsert = () => {
  throw new Error("no inserts");
};

export function laidOut(
  report: ReportPlan,
  rows: Cell[][],
  {
    metrics = plainMetrics,
    related = none,
    inserted = noInsert,
    counted = true,
    firstDrawn = 1,
  }: { metrics?: Metrics; related?: ReadRelated; inserted?: ReadInsert; counted?: boolean; firstDrawn?: number } = {},
): { pages: Page[]; outline: ReportOutline } {
  const input: LayoutInput = {
    report,
    metrics,
    locale: { locale: "en-GB", zone: "UTC" },
    texts: { brief: "A brief.", parameters: [], controls: [], printedAt: "now" },
  };
  const measures = measureReport(input, rows, null, () => []);
  const run = (known: Parameters<typeof layOutReport>[3]): { pages: Page[]; outline: ReportOutline } => {
    const laying = layOutReport(input, measures, { rows, figures: null, related, inserted }, known, firstDrawn);
    const pages: Page[] = [];
    for (;;) {
      const next = laying.next();
      if (next.done) return { pages, outline: next.value };
      pages.push(next.value);
    }
  };
  const first = run(null);
  return counted ? run({ pages: first.outline.pages, runs: first.outline.runs, notice: "" }) : first;
}

export const textsOf = (page: Page) => page.items.flatMap((i) => (i.kind === "text" ? [i] : []));

const noParts = { left: "", center: "", right: "" };
/** A report of some columns of its query and nothing else, on A5. */
export const plainReport = (columns: string[], more: Partial<ReportSpec> = {}): ReportSpec => ({
  version: 2,
  query: "q",
  title: "",
  showBrief: false,
  header: noParts,
  footer: noParts,
  parameters: {},
  levels: [],
  columns: columns.map((id) => ({ id, value: { kind: "field", column: id }, widthMm: null })),
  lines: [],
  shape: { kind: "table" },
  page: { paper: "A5", landscape: false, margins: { top: 10, right: 10, bottom: 10, left: 10 } },
  ...more,
});
