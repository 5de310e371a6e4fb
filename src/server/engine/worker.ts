import { exportCsv } from "@/server/export/csv";
import { inspectDatabase } from "./inspect";
import { type FailureCode, type Job, JobFailure, type JobResult } from "./jobs";
import { connection, inSnapshot, readRows, readSingle } from "./readers";

/** The engine's child process: one job at a time, results or a failure back. Built to dist/engine.mjs. */
const handlers: { [K in Job["kind"]]: (job: Extract<Job, { kind: K }>) => JobResult[K] | Promise<JobResult[K]> } = {
  inspect: (job) => inSnapshot(connection(job.database), () => inspectDatabase(connection(job.database), job.settings, job.links)),
  rows: (job) => Buffer.from(JSON.stringify([...readRows(connection(job.database), job.sql)])),
  singles: (job) => inSnapshot(connection(job.database), () => job.sqls.map((sql) => readSingle(connection(job.database), sql))),
  csv: (job) => exportCsv(connection(job.database), job.plan, job.path),
  // Fonts and the PDF writer are read when first needed: a process must be up in a moment.
  reportPages: async (job) => (await import("@/server/export/reportPdf")).layOutReportPages(connection(job.database), job.report, job.from, job.to),
  reportPdf: async (job) => (await import("@/server/export/reportPdf")).exportReportPdf(connection(job.database), job.report, job.path),
};

const CODES: [RegExp, FailureCode][] = [
  [/SQLITE_NOTADB|SQLITE_CORRUPT/, "notDatabase"],
  [/SQLITE_BUSY|SQLITE_LOCKED/, "locked"],
  [/SQLITE_CANTOPEN|ENOENT/, "notFound"],
  [/ENOSPC|SQLITE_FULL/, "diskFull"],
];

function failureOf(error: unknown): { code: FailureCode; particulars: string } {
  if (error instanceof JobFailure) return { code: error.code, particulars: error.particulars };
  const { code = "", message = "" } = error as { code?: string; message?: string };
  if (/integer overflow/.test(message)) return { code: "tooLarge", particulars: "" };
  const known = CODES.find(([pattern]) => pattern.test(`${code} ${message}`));
  return known ? { code: known[1], particulars: "" } : { code: "sql", particulars: message };
}

/** Answers the server; where it is gone, nobody waits for this process any more. */
function reply(answer: object): void {
  process.send?.(answer, undefined, undefined, (error: Error | null) => {
    if (error) process.exit(0);
  });
}

process.on("message", async (job: Job) => {
  try {
    const handler = handlers[job.kind] as (job: Job) => unknown;
    reply({ result: await handler(job) });
  } catch (error) {
    reply({ failure: failureOf(error) });
  }
});
process.on("disconnect", () => process.exit(0));
reply({ ready: true });
