import { tooManyGroups } from "@/core/query/everyGroup";
import { ProblemError } from "@/core/types/problem";
import type { Job, JobFile, Reply } from "@/server/engine/protocol";
import { beginWatch, endWatch } from "@/server/source/columnar/watch";
import { type FailureCode, JobFailure } from "@/server/source/failures";
import { isServer } from "@/server/source/postgres/address";
import { ServerRefusal } from "@/server/source/postgres/bridge";
import { faultOf } from "@/server/source/postgres/faults";
import { closeConnection, renewConnection } from "@/server/source/sqlite/readers";
import { inTransaction } from "@/server/source/writing";

/*
 * The engine's child process: one job at a time, results or a failure back. Built to dist/engine.mjs. A process must be up
 * in a moment: what a kind of job needs (fonts, the PDF writer, readers of files) is loaded when the first of the kind
 * comes, but for those that pages ask for all the time.
 */
const EARLY: Job["kind"][] = ["inspect", "rows", "singles", "proof", "pivot", "chart", "postingPreview", "post", "edit"];

const fileOf = (kind: Job["kind"]): Promise<JobFile> => import(`./kinds/${kind}.ts`);

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
  if (error instanceof ServerRefusal) return faultOf(error.code, error.message);
  const { code = "", message = "" } = error as { code?: string; message?: string };
  if (/integer overflow/.test(message)) return { code: "tooLarge", particulars: "" };
  if (message === tooManyGroups().message) return { code: "tooManyGroups", particulars: "" };
  const known = CODES.find(([pattern]) => pattern.test(`${code} ${message}`));
  return known ? { code: known[1], particulars: "" } : { code: "sql", particulars: message };
}

/** A process killed while it wrote leaves a journal that only a writer may roll back: done here, then the job is run again. */
async function again(error: unknown, job: Job, handler: () => unknown): Promise<unknown> {
  const { code = "" } = error as { code?: string };
  if (!/SQLITE_READONLY_(ROLLBACK|RECOVERY)/.test(code) || !("database" in job)) throw error;
  closeConnection(job.database);
  inTransaction(job.database, "rollback", (db) => db.prepare("SELECT 1 FROM sqlite_schema").get());
  return handler();
}

/** Answers the server; where it is gone, nobody waits for this process any more. */
function reply(answer: Reply): void {
  process.send?.(answer, undefined, undefined, (error: Error | null) => {
    if (error) process.exit(0);
  });
}

process.on("message", async (job: Job) => {
  try {
    if ("database" in job && !isServer(job.database)) renewConnection(job.database);
    const { run, holdsUpOthers = false } = await fileOf(job.kind);
    reply({ begun: { holdsUpOthers } });
    if (holdsUpOthers && "database" in job && !isServer(job.database)) await beginWatch(job.database);
    const done = async () => run(job as never, { progress, at: (place) => reply({ at: place }) });
    const result = await done().catch((error: unknown) => again(error, job, done));
    // Whoever is answered finds the copy as the database is.
    if (holdsUpOthers) await endWatch();
    reply({ result });
  } catch (error) {
    reply(error instanceof ProblemError ? { problems: error.problems } : { failure: failureOf(error) });
  }
});
process.on("disconnect", () => process.exit(0));
await Promise.all(EARLY.map(fileOf));
reply({ ready: true });
