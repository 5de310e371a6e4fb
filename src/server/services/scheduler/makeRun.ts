import { randomUUID } from "node:crypto";
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { basename, dirname, join } from "node:path";
import type { ScheduleMessage, ScheduleSpec } from "@/core/schedule/spec";
import type { Today } from "@/core/types/calendar";
import { dayInZone } from "@/core/types/date";
import { writeCount, writeDate } from "@/core/types/format";
import type { Run } from "@/server/catalogue/runs";
import { fileName } from "@/server/common/fileName";
import { makeMessage, sendMessage } from "@/server/services/outbox/message";
import type { Workspace } from "@/server/services/workspace/workspace";
import { boundValues } from "./bound";
import { checkControlTotals } from "./controls";
import type { Made } from "./made";
import { makeEach } from "./makeEach";
import { postDue } from "./postDue";
import { writerOf } from "./writers";

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
  if (spec.each) return makeEach(ws, { run, name, spec, each: spec.each, values, today, due: dueTime(run, spec), controls }, mayFinish);
  const posted = spec.subject.kind === "posting" ? await postDue(ws, spec, values, mayFinish) : null;
  if (posted === "gone") return null;
  const write = posted?.write ?? (await writerOf(ws, name, spec, values, today));
  const made: Made = { rows: posted?.rows ?? null, pages: null, files: [], controls, sentAt: null };
  const finished: { from: string; to: string }[] = [];
  const due = dueTime(run, spec);
  const finishAs = (extension: string, bytes: number): void => {
    const path = freePath(ws, run, spec.folder, `${name} ${today.day} ${due}`, extension);
    made.files.push({ path, bytes });
    finished.push({ from: draft(extension), to: join(ws.outbox, path) });
    // Written down before the file is there, so that no other run takes its name.
    if (mayFinish()) ws.catalogue.runs.update(run.id, { files: made.files });
  };
  try {
    for (const format of spec.formats) {
      const result = await write(format, draft(format));
      if (spec.subject.kind !== "dashboard" && !posted) made.rows = result.rows;
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
    if (!(error instanceof Unsent) && mayFinish()) ws.catalogue.runs.update(run.id, { files: null });
    throw error;
  } finally {
    removeDrafts(drafts, run.id);
  }
}

/** The time a run was due, as names of files have it: to the second where it was asked for by hand. */
const dueTime = (run: Run, spec: ScheduleSpec): string =>
  new Intl.DateTimeFormat("en-CA", { timeZone: spec.zone, hourCycle: "h23", hour: "2-digit", minute: "2-digit", ...(run.manual ? { second: "2-digit" } : {}) })
    .format(run.dueAt)
    .replaceAll(":", "");

/** The place of a file in the outbox that no other run's file has: a file belongs to its run, and so do those who may take it. */
function freePath({ catalogue }: Workspace, run: Run, folder: string, name: string, extension: string): string {
  const taken = new Set(catalogue.runs.withFiles().flatMap((r) => (r.id === run.id ? [] : (r.files ?? []).map((f) => f.path))));
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
