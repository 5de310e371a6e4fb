import { randomUUID } from "node:crypto";
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { basename, dirname, join } from "node:path";
import { CHART_FORMATS } from "@/core/chart/choices";
import { chartSpecSchema } from "@/core/chart/spec";
import { DASHBOARD_FORMATS } from "@/core/dashboard/choices";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { LETTER_FORMATS } from "@/core/letter/choices";
import { letterSpecSchema } from "@/core/letter/spec";
import { PIVOT_FORMATS } from "@/core/pivot/choices";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { type AgreedControl, agreedControls, checkControls, controlWords } from "@/core/query/controls";
import { type QuerySpec, querySpecSchema } from "@/core/query/spec";
import { firstReport, reportRows } from "@/core/report/plan";
import { type ReportSpec, reportSpecSchema } from "@/core/report/spec";
import { type Format, ROW_FORMATS } from "@/core/schedule/choices";
import type { ScheduleMessage, ScheduleSpec } from "@/core/schedule/spec";
import type { Today } from "@/core/types/calendar";
import { dayInZone } from "@/core/types/date";
import { writeCount, writeDate } from "@/core/types/format";
import { ProblemError, problem } from "@/core/types/problem";
import { RELATIVE_DATES } from "@/core/types/relative";
import type { Run, SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { writeChart } from "@/server/charts/service";
import { writeDashboard } from "@/server/dashboards/write";
import type { JobResult } from "@/server/engine/jobs";
import type { ReportJob } from "@/server/engine/work";
import { fileName } from "@/server/http/fileName";
import { writeLetters } from "@/server/letters/service";
import { makeMessage, sendMessage } from "@/server/outbox/message";
import { writePivot } from "@/server/pivots/service";
import { OWN_QUERY, savedQuery } from "@/server/queries/saved";
import { footingOfPlan, planOf } from "@/server/queries/service";
import { checkFootings, reportJob, writeReport } from "@/server/reports/service";
import type { Workspace } from "@/server/workspace/workspace";

/** The values a run gives to parameters: fixed ones, and those relative to the day it was due. */
export function boundValues(spec: ScheduleSpec, today: Today): Record<string, string> {
  return Object.fromEntries(Object.entries(spec.bindings).map(([name, b]) => [name, b.kind === "fixed" ? b.text : RELATIVE_DATES[b.date].of(today)]));
}

/** `rows` is null for what has none of its own. */
export type Made = {
  rows: number | null;
  pages: number | null;
  files: { path: string; bytes: number }[];
  controls: AgreedControl[] | null;
  sentAt: Date | null;
};

const CALLER = { client: "schedules", timeLimitMs: 3_600_000 };

/**
 * Makes the files of one run in a place of its own and moves them to the outbox when all are whole.
 * @param mayFinish asked just before the move: false where another process has taken over, and nothing is moved
 * @throws ProblemError, JobFailure with the sentence that the list of runs shows
 */
export async function makeRun(ws: Workspace, run: Run, name: string, spec: ScheduleSpec, mayFinish: () => boolean): Promise<Made | null> {
  const today: Today = { day: dayInZone(run.dueAt, spec.zone), calendar: ws.calendar };
  const values = boundValues(spec, today);
  const drafts = join(ws.folder, "tmp");
  const attempt = randomUUID();
  const draft = (extension: string) => join(drafts, `run-${run.id}-${attempt}.${extension}`);
  mkdirSync(drafts, { recursive: true });
  removeDrafts(drafts, run.id);
  const controls = run.forced ? null : await checkControlTotals(ws, spec, values, today);
  const write = await writerOf(ws, name, spec, values, today);
  const made: Made = { rows: null, pages: null, files: [], controls, sentAt: null };
  const finished: { from: string; to: string }[] = [];
  const due = new Intl.DateTimeFormat("en-CA", {
    timeZone: spec.zone,
    hourCycle: "h23",
    hour: "2-digit",
    minute: "2-digit",
    ...(run.manual ? { second: "2-digit" } : {}),
  })
    .format(run.dueAt)
    .replaceAll(":", "");
  const finishAs = (extension: string, bytes: number): void => {
    const path = freePath(ws, run, spec.folder, `${name} ${today.day} ${due}`, extension);
    made.files.push({ path, bytes });
    finished.push({ from: draft(extension), to: join(ws.outbox, path) });
    // Written down before the file is there, so that no other run takes its name.
    if (mayFinish()) ws.catalogue.updateRun(run.id, { files: made.files });
  };
  try {
    for (const format of spec.formats) {
      const result = await write(format, draft(format));
      if (spec.subject.kind !== "dashboard") made.rows = result.rows;
      if ("pages" in result && result.pages !== null) made.pages = result.pages;
      finishAs(format, result.bytes);
    }
    const message = spec.message ? await messageOf(ws, run, name, today, spec.message, made, finished) : null;
    if (message) {
      writeFileSync(draft("eml"), message.content);
      finishAs("eml", message.content.length);
    }
    if (!mayFinish()) return null;
    for (const { from, to } of finished) {
      mkdirSync(dirname(to), { recursive: true });
      renameSync(from, to);
    }
    if (message) {
      const sent = await sendMessage(message).catch((error: unknown) => {
        throw new Unsent(made, error instanceof Error ? error.message : String(error));
      });
      if (sent) made.sentAt = ws.now();
    }
    return made;
  } catch (error) {
    if (!(error instanceof Unsent) && mayFinish()) ws.catalogue.updateRun(run.id, { files: null });
    throw error;
  } finally {
    removeDrafts(drafts, run.id);
  }
}

/** The place of a file in the outbox that no other run's file has: a file belongs to its run, and so do those who may take it. */
function freePath({ catalogue }: Workspace, run: Run, folder: string, name: string, extension: string): string {
  const taken = new Set(catalogue.runsWithFiles().flatMap((r) => (r.id === run.id ? [] : (r.files ?? []).map((f) => f.path))));
  for (let n = 1; ; n++) {
    const path = `${folder}/${fileName(n === 1 ? name : `${name} (${n})`, extension)}`;
    if (!taken.has(path)) return path;
  }
}

/**
 * Takes away what earlier attempts at a run left. The engine of a killed server may still be writing one: with its
 * draft gone it has nothing to move into place, and ends.
 */
function removeDrafts(folder: string, run: string): void {
  for (const name of readdirSync(folder)) if (name.startsWith(`run-${run}`)) rmSync(join(folder, name), { force: true });
}

/** A run whose files are made, and whose message the mail server did not take. */
export class Unsent extends Error {
  constructor(
    readonly made: Made,
    words: string,
  ) {
    super(`The files and the message are in the outbox, but the mail server refused the message: ${words}. Check the server, then run again.`);
    this.name = "Unsent";
  }
}

/** The message that goes with a run's files, while they are still drafts. */
async function messageOf(ws: Workspace, run: Run, name: string, today: Today, message: ScheduleMessage, made: Made, drafts: { from: string; to: string }[]) {
  const files = drafts.map(({ from, to }) => ({ name: basename(to), content: readFileSync(from) }));
  const words = { name, day: writeDate(today.day, ws.locale), rows: made.rows === null ? "" : writeCount(made.rows, ws.locale) };
  return makeMessage(ws, message, words, files, run.id);
}

/** A run whose query does not agree with its control totals: it is held until its owner has seen the difference. */
export class Held extends Error {
  constructor(words: string) {
    super(words);
    this.name = "Held";
  }
}

/** A query that a subject is made from, and what is bound to its parameters there. */
type Source = { query: string; parameters: Record<string, string> /** One kept inside the subject, in place of a saved one. */; own?: QuerySpec };

/** Every query that a subject is made from: a dashboard's tiles and what stands after a report's rows have their own. */
function sourcesOf(ws: Workspace, saved: SavedObject): Source[] {
  const reached = (ids: string[]): Source[] =>
    ids.flatMap((id) => {
      const found = ws.objects.get(id);
      return found ? sourcesOf(ws, found) : [];
    });
  switch (saved.kind) {
    case "query":
      return [{ query: saved.id, parameters: {} }];
    case "chart": {
      const { query, pivot } = chartSpecSchema.parse(saved.spec);
      return [{ query, parameters: pivot.parameters }];
    }
    case "pivot":
      return [pivotSpecSchema.parse(saved.spec)];
    case "report": {
      const { query, own, parameters, closing = [] } = reportSpecSchema.parse(saved.spec);
      return [{ query, parameters, ...(own ? { own } : {}) }, ...reached(closing.map((c) => c.id))];
    }
    case "letter":
      return [letterSpecSchema.parse(saved.spec)];
    case "dashboard":
      return reached(madeFrom("dashboard", saved.spec));
    default:
      return [];
  }
}

/**
 * Holds each query of the subject against its control totals, with the parameters it is run with.
 * @returns those that were checked: all agree
 * @throws Held with every difference
 */
async function checkControlTotals(ws: Workspace, spec: ScheduleSpec, values: Record<string, string>, today: Today): Promise<AgreedControl[]> {
  const saved = ws.objects.get(spec.subject.id);
  const sources = new Map(
    (saved ? sourcesOf(ws, saved) : []).map(({ query, parameters, own }) => [JSON.stringify([query, parameters, own]), { query, parameters, own }]),
  );
  const differences: string[] = [];
  const agreed: AgreedControl[] = [];
  for (const { query: id, parameters, own } of sources.values()) {
    const { name, spec: query } = own ? { name: saved?.name ?? OWN_QUERY, spec: own } : savedQuery(ws, id);
    if (!query.controls?.length) continue;
    const plan = await planOf(ws, query, { ...parameters, ...values }, today);
    const checks = checkControls(query, plan, await footingOfPlan(ws, plan, CALLER));
    agreed.push(...agreedControls(checks, ws.locale));
    const words = controlWords(checks, ws.locale);
    if (words) differences.push(sources.size > 1 ? `“${name}”: ${words}` : words);
  }
  if (differences.length > 0) throw new Held(differences.join(" "));
  return agreed;
}

type Write = (format: Format, path: string) => Promise<JobResult["export"] | JobResult["dashboardFile"]>;

/** How the subject of a schedule is made into a file. @throws ProblemError where the subject is gone */
async function writerOf(ws: Workspace, name: string, spec: ScheduleSpec, values: Record<string, string>, today: Today): Promise<Write> {
  const saved = ws.objects.get(spec.subject.id);
  if (!saved || saved.kind !== spec.subject.kind) throw new ProblemError([problem("subjectGone", ["subject"], { kind: spec.subject.kind })]);
  switch (spec.subject.kind) {
    case "pivot": {
      const pivot = { spec: pivotSpecSchema.parse(saved.spec), values };
      return (format, path) => writePivot(ws, pivot, { format: formatIn(PIVOT_FORMATS, format), path, title: name }, CALLER, today);
    }
    case "chart": {
      const chart = { spec: chartSpecSchema.parse(saved.spec), values };
      return (format, path) => writeChart(ws, chart, { format: formatIn(CHART_FORMATS, format), path, title: name }, CALLER, today);
    }
    case "dashboard": {
      const dashboard = { spec: dashboardSpecSchema.parse(saved.spec), values: {} };
      return (format, path) => writeDashboard(ws, dashboard, { format: formatIn(DASHBOARD_FORMATS, format), path, title: name }, CALLER, today);
    }
    case "letter": {
      const letter = { spec: letterSpecSchema.parse(saved.spec), values };
      return (format, path) => writeLetters(ws, letter, { format: formatIn(LETTER_FORMATS, format), path, title: name }, CALLER, today);
    }
    case "report":
      return reportWriter(ws, await reportJob(ws, reportSpecSchema.parse(saved.spec), values, today), "report");
    case "query": {
      const plan = await planOf(ws, querySpecSchema.parse(saved.spec), values, today);
      const plain: ReportSpec = firstReport(saved.id, saved.name, plan);
      return reportWriter(ws, await reportJob(ws, { ...plain, page: { ...plain.page, landscape: plain.columns.length > 6 } }, values, today), "query");
    }
    default:
      return spec.subject.kind satisfies never;
  }
}

/** The format, where it is one of those that can be made: the description's shape has seen to that. */
function formatIn<F extends Format>(formats: readonly F[], format: Format): F {
  const found = formats.find((f) => f === format);
  if (!found) throw new TypeError(`${format} is not available here`);
  return found;
}

/** The files of a report that are laid out, with their proof; of a query laid out as a plain list, its pages alone. */
const LAID_OUT = { report: ["pdf", "html", "xlsx"], query: ["pdf"] } as const;

/** Writes a report, or a query laid out as a plain list: as it is laid out, proved, or its rows. */
const reportWriter =
  (ws: Workspace, job: ReportJob, of: keyof typeof LAID_OUT): Write =>
  async (wanted, path) => {
    const format = LAID_OUT[of].find((f) => f === wanted);
    if (!format)
      return ws.engine.run<"export">(
        { kind: "export", format: formatIn(ROW_FORMATS, wanted), database: ws.database, plan: reportRows(job.report), path },
        CALLER,
      );
    const printed = await writeReport(ws, job, { format, path }, CALLER);
    const proof = printed.proof && (await checkFootings(ws, job, printed.proof, CALLER));
    if (!proof?.agrees) throw new Error("The printed totals and the query differ. The data changed while printing. Run it again.");
    return printed;
  };
