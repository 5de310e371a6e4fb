import { tooManyGroups } from "@/core/query/everyGroup";
import { ProblemError } from "@/core/types/problem";
import { runChart } from "@/server/charts/run";
import { findDuplicates } from "@/server/duplicates/find";
import { mergeRows, previewMerge } from "@/server/duplicates/merge";
import { linkEvidence, suggestLinks } from "@/server/links/evidence";
import { runPivot, runPivotRecount } from "@/server/pivots/run";
import { editRow } from "@/server/posting/edit";
import { readEntry } from "@/server/posting/journal";
import { findEntries, peopleIn } from "@/server/posting/journalFind";
import { journalTable } from "@/server/posting/journalTable";
import { outcomeTable } from "@/server/posting/outcomeTable";
import { previewRows } from "@/server/posting/preview";
import { rowHistory } from "@/server/posting/rowHistory";
import { inTransaction, post, previewPosting, previewReversal, reverse } from "@/server/posting/run";
import { stageQuery } from "@/server/posting/stage";
import { valueShares } from "@/server/posting/valueShares";
import { proveQuery } from "@/server/queries/prove";
import { dropWhole, shapeNow, shapeTable, surveyIn, tableFromQuery } from "@/server/shape/run";
import { type FailureCode, JobFailure } from "./failures";
import { inspectDatabase } from "./inspect";
import type { Job, JobResult } from "./jobs";
import { closeConnection, connection, inSnapshot, readRows, readSingle, renewConnection, shownRows } from "./readers";

/** The engine's child process: one job at a time, results or a failure back. Built to dist/engine.mjs. */
const handlers: { [K in Job["kind"]]: (job: Extract<Job, { kind: K }>) => JobResult[K] | Promise<JobResult[K]> } = {
  inspect: (job) => {
    const db = connection(job.database);
    return inSnapshot(db, () => inspectDatabase(db, job.settings, job.links, { skip: job.skip, onView: (at) => reply({ progress: at }) }));
  },
  rows: (job) => Buffer.from(JSON.stringify([...shownRows(readRows(connection(job.database), job.sql))])),
  singles: (job) => inSnapshot(connection(job.database), () => job.sqls.map((sql) => readSingle(connection(job.database), sql))),
  proof: (job) => proveQuery(connection(job.database), job.plan, job.figure),
  pivot: (job) => inSnapshot(connection(job.database), () => Buffer.from(JSON.stringify(runPivot(connection(job.database), job.pivot)))),
  pivotRecount: (job) => runPivotRecount(connection(job.database), job.pivot),
  pivotFile: async (job) => (await import("@/server/export/pivot")).exportPivot(connection(job.database), job.pivot, job.file),
  chart: (job) => inSnapshot(connection(job.database), () => Buffer.from(JSON.stringify(runChart(connection(job.database), job.chart)))),
  chartFile: async (job) => (await import("@/server/export/chart")).exportChart(connection(job.database), job.chart, job.file),
  letterPages: async (job) => (await import("@/server/letters/run")).letterPages(connection(job.database), job.letter, job.at),
  letterSurvey: async (job) => (await import("@/server/letters/run")).surveyLetters(connection(job.database), job.letter),
  letterFile: async (job) => (await import("@/server/letters/run")).writeLetters(connection(job.database), job.letter, job.file),
  dashboardFile: async (job) => (await import("@/server/export/dashboard")).exportDashboard(job),
  export: async (job) => {
    const db = connection(job.database);
    if (job.about) return (await import("@/server/export/withAbout")).exportWithAbout(db, { ...job, about: job.about }, progress);
    const { exportRows } = await import("@/server/export/rows");
    return exportRows[job.format](db, job.plan, job.path, job.guarded, progress);
  },
  stageQuery: (job) => stageQuery(job.database, job.plan, job.path),
  postingPreview: (job) => previewPosting(job.database, job.posting, job.path),
  post: (job) => post(job.database, job.posting, job),
  reversalPreview: (job) => previewReversal(job.database, job.schema, job.number, job.force, job.path),
  reverse: (job) => reverse(job.database, job.schema, job.number, job.force, job.digest, job.entry),
  edit: (job) => editRow(job.database, job.table, job.links, job.change, job.entry),
  shapeNow: (job) => shapeNow(connection(job.database), job.table),
  shapeSurvey: (job) => inSnapshot(connection(job.database), () => surveyIn(job.database, connection(job.database), job.plan)),
  shape: (job) => shapeTable(job.database, job.plan, job.digest, job.entry, job.seen),
  tableFromQuery: (job) => tableFromQuery(job.database, job.plan, job.name, job.entry),
  dropTable: (job) => dropWhole(job.database, job.table, job.entry),
  outcomeTable: (job) => outcomeTable(job.path, job.steps, job.into),
  previewRows: (job) => previewRows(job.path, job),
  journal: (job) => inSnapshot(connection(job.database), () => findEntries(connection(job.database), job)),
  journalEntry: (job) => inSnapshot(connection(job.database), () => readEntry(connection(job.database), job.number)),
  journalPeople: (job) => peopleIn(connection(job.database)),
  journalTable: (job) => journalTable(job.database, job.schema, job.what, job.question, job.into),
  valueShares: (job) => inSnapshot(connection(job.database), () => valueShares(connection(job.database), job.staged, job.candidates)),
  duplicates: (job) => inSnapshot(connection(job.database), () => findDuplicates(connection(job.database), job.table, job.links, job.question)),
  mergePreview: (job) => previewMerge(job.database, job.merging),
  merge: (job) => mergeRows(job.database, job.merging, job.digest, job.entry),
  rowHistory: (job) => inSnapshot(connection(job.database), () => rowHistory(connection(job.database), job.table, job.key)),
  suggestLinks: (job) => inSnapshot(connection(job.database), () => suggestLinks(connection(job.database), job.schema, job.table)),
  linkEvidence: (job) => inSnapshot(connection(job.database), () => linkEvidence(connection(job.database), job.spec)),
  // Readers of files are loaded when the first file comes.
  scanFile: async (job) => {
    const [{ findFormat }, { scanFile }] = await Promise.all([import("@/server/import/format"), import("@/server/import/scan")]);
    const found = await findFormat(job.path, job.name);
    const format = job.format ?? found.format;
    return { format, sheets: found.sheets, scan: await scanFile(job.path, format, progress, job.cleans) };
  },
  fileHeadings: async (job) => (await import("@/server/import/scan")).fileHeadings(job.path, job.format),
  importFile: async (job) => (await import("@/server/import/run")).importFile(job.path, job.spec, job.into, progress),
  // Fonts and the PDF writer are read when first needed: a process must be up in a moment.
  drawnPages: async (job) => (await import("@/server/reports/pages")).drawnPages(connection(job.database), job.drawn, job),
  reportPages: async (job) => (await import("@/server/reports/pages")).layOutReportPages(connection(job.database), job.report, job.from, job.to),
  reportGlance: async (job) => (await import("@/server/reports/pages")).glanceAtReport(connection(job.database), job.report),
  reportFind: async (job) => (await import("@/server/reports/pages")).findInReport(connection(job.database), job.report, job.text),
  reportFile: async (job) => (await import("@/server/export/reportFile")).writeReportFile(connection(job.database), job.report, job.file, progress),
};

/** Tells how far a job is, its share or what is done of it, a few times a second at most. */
let told = 0;
function progress(share: number): void {
  if (performance.now() - told < 200) return;
  told = performance.now();
  reply({ progress: share });
}

const CODES: [RegExp, FailureCode][] = [
  [/SQLITE_NOTADB|SQLITE_CORRUPT/, "notDatabase"],
  [/SQLITE_BUSY|SQLITE_LOCKED/, "locked"],
  [/SQLITE_READONLY/, "readOnly"],
  [/SQLITE_CANTOPEN|ENOENT/, "notFound"],
  // SQLite tells a quota or a limit that is reached apart from a full disk only as a write that failed.
  [/ENOSPC|EDQUOT|SQLITE_FULL|SQLITE_IOERR_WRITE/, "diskFull"],
];

function failureOf(error: unknown): { code: FailureCode; particulars: string } {
  if (error instanceof JobFailure) return { code: error.code, particulars: error.particulars };
  const { code = "", message = "" } = error as { code?: string; message?: string };
  if (/integer overflow/.test(message)) return { code: "tooLarge", particulars: "" };
  if (message === tooManyGroups().message) return { code: "tooManyGroups", particulars: "" };
  const known = CODES.find(([pattern]) => pattern.test(`${code} ${message}`));
  return known ? { code: known[1], particulars: "" } : { code: "sql", particulars: message };
}

/** A process killed while it wrote leaves a journal that only a writer may roll back: done here, then the job is run again. */
async function again(error: unknown, job: Job, handler: (job: Job) => unknown): Promise<unknown> {
  const { code = "" } = error as { code?: string };
  if (!/SQLITE_READONLY_(ROLLBACK|RECOVERY)/.test(code) || !("database" in job)) throw error;
  closeConnection(job.database);
  inTransaction(job.database, "rollback", (db) => db.prepare("SELECT 1 FROM sqlite_schema").get());
  return handler(job);
}

/** Answers the server; where it is gone, nobody waits for this process any more. */
function reply(answer: object): void {
  process.send?.(answer, undefined, undefined, (error: Error | null) => {
    if (error) process.exit(0);
  });
}

process.on("message", async (job: Job) => {
  try {
    if ("database" in job) renewConnection(job.database);
    const handler = async (j: Job) => (handlers[j.kind] as (job: Job) => unknown)(j);
    reply({ result: await handler(job).catch((error: unknown) => again(error, job, handler)) });
  } catch (error) {
    reply(error instanceof ProblemError ? { problems: error.problems } : { failure: failureOf(error) });
  }
});
process.on("disconnect", () => process.exit(0));
reply({ ready: true });
