import { randomUUID } from "node:crypto";
import { mkdirSync, readdirSync, renameSync, rmSync } from "node:fs";
import { dirname, join } from "node:path";
import { querySpecSchema } from "@/core/query/spec";
import { firstReport, planReport } from "@/core/report/plan";
import { type ReportSpec, reportSpecSchema } from "@/core/report/spec";
import type { FORMATS, ScheduleSpec } from "@/core/schedule/spec";
import { dayInZone, RELATIVE_DATES } from "@/core/types/date";
import { ProblemError, problem } from "@/core/types/problem";
import type { Run } from "@/server/catalogue/catalogue";
import type { JobResult, ReportJob } from "@/server/engine/jobs";
import { fileName } from "@/server/http/download";
import { planOf } from "@/server/queries/service";
import { checkFootings, reportJob, writeReportPdf } from "@/server/reports/service";
import type { Workspace } from "@/server/workspace/workspace";

/** The values a run gives to parameters: fixed ones, and those relative to the day it was due. */
export function boundValues(spec: ScheduleSpec, day: string): Record<string, string> {
  return Object.fromEntries(Object.entries(spec.bindings).map(([name, b]) => [name, b.kind === "fixed" ? b.text : RELATIVE_DATES[b.date].of(day)]));
}

export type Made = { rows: number; pages: number | null; files: { path: string; bytes: number }[] };

const CALLER = { client: "schedules", timeLimitMs: 3_600_000 };

/**
 * Makes the files of one run in a place of its own and moves them to the outbox when all are whole.
 * @param mayFinish asked just before the move: false where another process has taken over, and nothing is moved
 * @throws ProblemError, JobFailure with the sentence that the list of runs shows
 */
export async function makeRun(ws: Workspace, run: Run, name: string, spec: ScheduleSpec, mayFinish: () => boolean): Promise<Made | null> {
  const day = dayInZone(run.dueAt, spec.zone);
  const values = boundValues(spec, day);
  const drafts = join(ws.folder, "tmp");
  const attempt = randomUUID();
  const draft = (extension: string) => join(drafts, `run-${run.id}-${attempt}.${extension}`);
  mkdirSync(drafts, { recursive: true });
  removeDrafts(drafts, run.id);
  const job = await jobOf(ws, spec, values, day);
  const made: Made = { rows: 0, pages: null, files: [] };
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
  try {
    for (const format of spec.formats) {
      const result = await write(ws, job, format, draft(format));
      made.rows = result.rows;
      if ("pages" in result) made.pages = result.pages;
      const path = `${spec.folder}/${fileName(`${name} ${day} ${due}`, format)}`;
      made.files.push({ path, bytes: result.bytes });
      finished.push({ from: draft(format), to: join(ws.outbox, path) });
    }
    if (!mayFinish()) return null;
    for (const { from, to } of finished) {
      mkdirSync(dirname(to), { recursive: true });
      renameSync(from, to);
    }
    return made;
  } finally {
    removeDrafts(drafts, run.id);
  }
}

/**
 * Takes away what earlier attempts at a run left. The engine of a killed server may still be writing one: with its
 * draft gone it has nothing to move into place, and ends.
 */
function removeDrafts(folder: string, run: string): void {
  for (const name of readdirSync(folder)) if (name.startsWith(`run-${run}`)) rmSync(join(folder, name), { force: true });
}

async function write(ws: Workspace, job: ReportJob, format: (typeof FORMATS)[number], path: string): Promise<JobResult["export"] | JobResult["reportPdf"]> {
  if (format !== "pdf") {
    const checked = planReport(job.spec, job.plan);
    if (!checked.ok) throw new ProblemError(checked.problems);
    return ws.engine.run<"export">({ kind: "export", format, database: ws.database, plan: checked.value.plan, path }, CALLER);
  }
  const printed = await writeReportPdf(ws, job, path, CALLER);
  const proof = await checkFootings(ws, job, printed, CALLER);
  if (!proof.agrees) throw new Error("The printed footing does not agree with the query’s. The data changed while it was printed; run it again.");
  return printed;
}

/** What is printed: the report, or a query laid out as a plain list. */
async function jobOf(ws: Workspace, spec: ScheduleSpec, values: Record<string, string>, day: string): Promise<ReportJob> {
  const saved = ws.catalogue.get(spec.subject.id);
  if (!saved || saved.kind !== spec.subject.kind) throw new ProblemError([problem("subjectGone", ["subject"], { kind: spec.subject.kind })]);
  if (saved.kind === "report") return reportJob(ws, reportSpecSchema.parse(saved.spec), values, day);
  const plan = await planOf(ws, querySpecSchema.parse(saved.spec), values, day);
  const plain: ReportSpec = firstReport(saved.id, saved.name, plan);
  return reportJob(ws, { ...plain, page: { ...plain.page, landscape: plain.columns.length > 6 } }, values, day);
}
