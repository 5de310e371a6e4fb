import { randomUUID } from "node:crypto";
import { mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { z } from "zod";
import { dashboardSpecSchema, type FilterValues } from "@/core/dashboard/spec";
import { letterSpecSchema } from "@/core/letter/spec";
import { writtenOut } from "@/core/posting/coerce";
import { overRows, resolveOver } from "@/core/query/over";
import { probeValues } from "@/core/query/parameters";
import type { Page } from "@/core/report/page";
import { firstReport } from "@/core/report/plan";
import { reportSpecSchema } from "@/core/report/spec";
import { SUBJECTS } from "@/core/schedule/choices";
import { type EachItem, isUnfiltered, narrowingColumns, narrowTo } from "@/core/schedule/each";
import { eachSchema } from "@/core/schedule/eachSpec";
import { bindingSchema } from "@/core/schedule/spec";
import { pictureSize } from "@/core/types/picture";
import { type Cell, isMisfit } from "@/core/types/valueType";
import { Refusal } from "@/server/common/refusal";
import { writeDashboard } from "@/server/services/dashboards/write";
import { letterJob } from "@/server/services/letters/service";
import { savedQuery } from "@/server/services/queries/saved";
import { planOf } from "@/server/services/queries/service";
import { drawnJob, reportJob } from "@/server/services/reports/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { boundValues } from "./bound";
import { listEach } from "./makeEach";
import { CALLER, narrowedBy, queryOfSubject } from "./writers";

/* What a schedule would make for each of many, looked at before anything is made or sent. */

export const eachQuestionSchema = z.object({
  subject: z.object({ kind: z.enum(SUBJECTS), id: z.string() }),
  bindings: z.record(z.string(), bindingSchema),
  each: eachSchema,
});
type Question = z.infer<typeof eachQuestionSchema>;

/** One of those a subject would be made for; `rows` is null where only making it tells. */
export type EachLook = Pick<EachItem, "key" | "words" | "fileName" | "to" | "wrong"> & { rows: number | null };

/** Items that are listed at the most. */
const MOST_LISTED = 2000;

/** All that a subject would be made for now, each with its address and its rows. */
export async function lookAtEach(
  ws: Workspace,
  { subject, bindings, each }: Question,
): Promise<{ items: EachLook[]; count: number; parted: number | null; whole: number | null }> {
  const values = boundValues({ bindings }, ws.today);
  const items = await listEach(ws, { subject }, each, values, ws.today);
  const counts = await rowsOfEach(ws, { subject, bindings, each });
  const looked = items.map((item): EachLook => {
    const { key, words, fileName, to, wrong } = item;
    return { key, words, fileName, to, wrong, rows: counts?.get(key) ?? (counts || isUnfiltered(each, item) ? 0 : null) };
  });
  const whole = counts ? [...counts.values()].reduce((a, b) => a + b, 0) : null;
  return { items: looked.slice(0, MOST_LISTED), count: items.length, parted: counts ? looked.reduce((sum, i) => sum + (i.rows ?? 0), 0) : null, whole };
}

/** How many rows of the subject's query each item has, by its key; null where parameters decide. */
async function rowsOfEach(ws: Workspace, { subject, bindings, each }: Question): Promise<Map<string, number> | null> {
  const columns = each.match.flatMap((m) => (m.to.kind === "column" ? [m.to.column] : []));
  if (columns.length < each.match.length) return null;
  const context = { today: ws.today, values: boundValues({ bindings }, ws.today), person: ws.knownAs };
  const inner = await planOf(ws, queryOfSubject(ws, { subject }), context.values);
  const keys = columns.map((column, i) => ({ id: `k${i}`, value: { kind: "field" as const, join: "", column } }));
  const plan = resolveOver({ ...overRows(), grouped: true, columns: [...keys, { id: "n", value: null, figure: "count" }] }, inner, context);
  if (!plan.ok) return null;
  const rows = JSON.parse(
    (await ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement: { of: "rows", plan: plan.value } }, CALLER)).json.toString(),
  ) as Cell[][];
  return new Map(
    rows.map((row) => {
      const key = keys.map((_, i) => {
        const cell = row[i] ?? null;
        return cell === null || isMisfit(cell) ? null : writtenOut(cell, plan.value.columns[i]?.type ?? { kind: "text" });
      });
      return [JSON.stringify(key), Number(row[keys.length] ?? 0)];
    }),
  );
}

/** The first pages of what one item would get. @throws Refusal where it is not among them any more */
export async function pagesOfEach(ws: Workspace, { key, ...question }: Question & { key: string }): Promise<{ pages: Page[]; count: number }> {
  const { subject, bindings, each } = question;
  const given = boundValues({ bindings }, ws.today);
  const item = (await listEach(ws, question, each, given, ws.today)).find((i) => i.key === key);
  if (!item) throw new Refusal(404, "It is no longer among those there is a file for. Look again.");
  if (isUnfiltered(each, item)) throw new Refusal(422, "It has no value for the filter, so there is no file for it.");
  const saved = ws.objects.get(subject.id);
  if (saved?.kind === "dashboard") return pictured(ws, { saved, filters: narrowTo(each, item, null).filters });
  const { query, values } = narrowTo(each, item, queryOfSubject(ws, question));
  const all = { ...given, ...values };
  if (saved?.kind === "letter") {
    const letter = await letterJob(ws, { spec: letterSpecSchema.parse(saved.spec), values: all }, ws.today, query);
    return ws.engine.run<"letterPages">({ kind: "letterPages", database: ws.database, letter, at: 0 }, CALLER);
  }
  if (saved?.kind === "pivot" || saved?.kind === "chart") {
    const drawn = await drawnJob(ws, { kind: saved.kind, id: saved.id }, all, ws.today, () => query);
    const pages = await ws.engine.run<"drawnPages">({ kind: "drawnPages", database: ws.database, drawn, locale: ws.locale, printedAt: ws.printedAt() }, CALLER);
    return { pages: pages.slice(0, 3), count: pages.length };
  }
  const spec = saved?.kind === "report" ? reportSpecSchema.parse(saved.spec) : firstReport(subject.id, saved?.name ?? "", await planOf(ws, query, all));
  const report = await reportJob(ws, { ...spec, own: query }, all);
  const { pages, outline } = await ws.engine.run<"reportPages">({ kind: "reportPages", database: ws.database, report, from: 1, to: 3 }, CALLER);
  return { pages, count: outline.pages };
}

/** A dashboard as one picture on a page, as its file would show it. */
async function pictured(ws: Workspace, { saved, filters }: { saved: { name: string; spec: unknown }; filters: FilterValues }) {
  mkdirSync(join(ws.folder, "tmp"), { recursive: true });
  const path = join(ws.folder, "tmp", `look-${randomUUID()}.png`);
  try {
    await writeDashboard(ws, { spec: dashboardSpecSchema.parse(saved.spec), values: filters }, { format: "png", path, title: saved.name }, CALLER);
    const png = readFileSync(path).toString("base64");
    const size = pictureSize(png);
    const picture = { kind: "picture" as const, x: 0, y: 0, ...size, png, alt: saved.name };
    return { pages: [{ number: 1, ...size, items: [picture] }], count: 1 };
  } finally {
    rmSync(path, { force: true });
  }
}

export type EachColumns = {
  columns: { id: string; heading: string; narrows: boolean }[];
  parameters: string[];
  /** Of a dashboard: by what it can be kept to one row of a query. */
  filters: { id: string; label: string }[];
};

/** The columns of a subject's query, or of a saved one, that a list can be made of. */
export async function columnsForEach(ws: Workspace, { subject, query: id }: { subject: Question["subject"]; query: string | null }): Promise<EachColumns> {
  const narrowed = narrowedBy(ws, { subject });
  const filters = narrowed.filters.map((f) => ({ id: f.id, label: f.label }));
  const query = id === null ? narrowed.query : savedQuery(ws, id).spec;
  if (!query) return { columns: [], parameters: [], filters };
  const plan = await planOf(ws, query, probeValues(query.parameters));
  const narrowing = new Set(narrowingColumns(query));
  return {
    columns: plan.columns.filter((c) => !c.hidden && !c.orders).map((c) => ({ id: c.id, heading: c.heading, narrows: narrowing.has(c.id) })),
    parameters: query.parameters.map((p) => p.name),
    filters,
  };
}
