import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import type { AgreedControl } from "@/core/query/controls";
import { type EachItem, type EachPlan, isUnfiltered, itemsOf, narrowTo, planEach } from "@/core/schedule/each";
import type { EachSpec } from "@/core/schedule/eachSpec";
import type { ScheduleMessage, ScheduleSpec } from "@/core/schedule/spec";
import type { Today } from "@/core/types/calendar";
import { writeCount, writeDate } from "@/core/types/format";
import { ProblemError, problem } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import type { Run, RunItem } from "@/server/catalogue/runs";
import { fileName } from "@/server/common/fileName";
import { makeMessage, sendMessage } from "@/server/services/outbox/message";
import { savedQuery } from "@/server/services/queries/saved";
import { footingOfPlan, planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import type { Made } from "./made";
import { CALLER, narrowedBy, queryOfSubject, writerOf } from "./writers";

/*
 * A run that makes its subject once for each of many:
 *
 *   list, set down once ─▶ files, one item after the other ─▶ together they are the whole ─▶ messages, one after the other
 *
 * What is done is set down item by item: a run that was killed goes on where it was, and nobody gets a message twice.
 */

type Given = {
  run: Run;
  name: string;
  spec: ScheduleSpec;
  each: EachSpec;
  values: Record<string, string>;
  today: Today;
  due: string;
  controls: AgreedControl[] | null;
};

/** The list of what a schedule's subject is made for, as the data has it now. @throws ProblemError */
export async function listEach(
  ws: Workspace,
  spec: Pick<ScheduleSpec, "subject">,
  each: EachSpec,
  values: Record<string, string>,
  today: Today,
): Promise<EachItem[]> {
  const narrowed = narrowedBy(ws, spec);
  if (each.query !== null && ws.objects.get(each.query)?.kind !== "query") throw new ProblemError([problem("eachQueryGone", ["each", "query"])]);
  const other = each.query === null ? null : savedQuery(ws, each.query).spec;
  const planned = planEach(each, narrowed, other, await ws.schema(), { today, values, person: ws.knownAs });
  if (!planned.ok) throw new ProblemError(planned.problems);
  return itemsOf(planned.value, await rowsOf(ws, planned.value), ws.locale);
}

async function rowsOf(ws: Workspace, { plan }: EachPlan): Promise<Cell[][]> {
  const { json } = await ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement: { of: "rows", plan } }, CALLER);
  return JSON.parse(json.toString()) as Cell[][];
}

/** Items whose files are noted with the run at once. */
const NOTED = 25;

export async function makeEach(ws: Workspace, given: Given, mayFinish: () => boolean): Promise<Made | null> {
  const { run, spec, each, values, today, controls } = given;
  const { catalogue } = ws;
  if (catalogue.runs.items(run.id).length === 0) {
    const items = await listEach(ws, spec, each, values, today);
    if (!mayFinish()) return null;
    catalogue.runs.addItems(run.id, items);
  }
  const noted = () => catalogue.runs.update(run.id, { files: filesOf(catalogue.runs.items(run.id)) });
  const waiting = catalogue.runs.items(run.id).filter((i) => i.state === "waiting");
  for (const [n, item] of waiting.entries()) {
    if (!mayFinish()) return null;
    await makeItem(ws, given, item, mayFinish);
    if (n % NOTED === NOTED - 1) noted();
  }
  if (!mayFinish()) return null;
  noted();
  await checkTogether(ws, given, catalogue.runs.items(run.id));
  if (spec.message) for (const item of catalogue.runs.items(run.id)) if (!(await sendItem(ws, given, spec.message, item, mayFinish))) return null;
  const items = catalogue.runs.items(run.id);
  const sum = (of: (item: RunItem) => number | null) => items.reduce((all, item) => all + (of(item) ?? 0), 0);
  return {
    rows: items.some((i) => i.rows !== null) ? sum((i) => i.rows) : null,
    pages: items.some((i) => i.pages !== null) ? sum((i) => i.pages) : null,
    files: filesOf(items),
    controls,
    sentAt: items.some((i) => i.state === "sent") ? ws.now() : null,
  };
}

const filesOf = (items: RunItem[]): { path: string; bytes: number }[] => items.flatMap((i) => i.files ?? []);

/** Makes the files of one item: all of them stand in the outbox, or none. */
async function makeItem(ws: Workspace, given: Given, { run, place, item }: RunItem, mayFinish: () => boolean): Promise<void> {
  const { spec, each, values, today, name, due } = given;
  const write = await writerOf(ws, item.words, spec, values, today, (query) => narrowTo(each, item, query));
  const drafts = join(ws.folder, "tmp");
  mkdirSync(drafts, { recursive: true });
  const draft = (extension: string) => join(drafts, `run-${run}-item-${place}.${extension}`);
  const made: Pick<RunItem, "rows" | "pages" | "totals"> & { files: { path: string; bytes: number }[] } = { rows: null, pages: null, totals: null, files: [] };
  try {
    if (isUnfiltered(each, item)) return void (mayFinish() && ws.catalogue.runs.updateItem({ run, place }, { state: "empty", rows: 0 }));
    const rows = await rowsApart(ws, given, item);
    if (rows === 0 && each.skipEmpty) return void (mayFinish() && ws.catalogue.runs.updateItem({ run, place }, { state: "empty", rows: 0 }));
    for (const format of spec.formats) {
      const result = await write(format, draft(format)).catch((error: unknown) => {
        // Letters to nobody are none.
        if (error instanceof ProblemError && error.problems.some((p) => ["letterNone", "letterNoneMeant"].includes(p.code))) return null;
        throw error;
      });
      if (result === null || (result.rows === 0 && each.skipEmpty))
        return void (mayFinish() && ws.catalogue.runs.updateItem({ run, place }, { state: "empty", rows: 0 }));
      if (spec.subject.kind !== "dashboard") made.rows = rows ?? result.rows;
      if ("pages" in result && typeof result.pages === "number") made.pages = result.pages;
      if ("totals" in result) made.totals = result.totals;
      // The name of the run parts the files of two runs, as it does where a run makes one.
      made.files.push({ path: `${spec.folder}/${fileName(`${item.fileName} · ${name} ${today.day} ${due}`, format)}`, bytes: result.bytes });
    }
    if (!mayFinish()) return;
    for (const [i, { path }] of made.files.entries()) {
      const to = join(ws.outbox, path);
      mkdirSync(dirname(to), { recursive: true });
      renameSync(draft(spec.formats[i] ?? ""), to);
    }
    ws.catalogue.runs.updateItem({ run, place }, { state: "made", ...made, error: item.wrong });
  } finally {
    for (const format of spec.formats) rmSync(draft(format), { force: true });
  }
}

/** How many rows an item's pivot or chart is worked out from, which its file does not tell; null of what counts them itself. */
async function rowsApart(ws: Workspace, { spec, each, values, today }: Given, item: EachItem): Promise<number | null> {
  if (spec.subject.kind !== "pivot" && spec.subject.kind !== "chart") return null;
  const { query, values: own } = narrowTo(each, item, queryOfSubject(ws, spec));
  return (await footingOfPlan(ws, await planOf(ws, query, { ...values, ...own }, today), CALLER)).rows;
}

/** Where there is one for each value of the subject's own query, the parts are the whole: no row is in none, none in two. */
async function checkTogether(ws: Workspace, { spec, each, values, today }: Given, items: RunItem[]): Promise<void> {
  if (each.query !== null || each.match.some((m) => m.to.kind !== "column") || spec.subject.kind === "letter") return;
  const query = queryOfSubject(ws, spec);
  const { rows } = await footingOfPlan(ws, await planOf(ws, query, values, today), CALLER);
  const parts = items.reduce((sum, i) => sum + (i.rows ?? 0), 0);
  if (rows !== parts)
    throw new Error(
      `The files hold ${writeCount(parts, ws.locale)} rows together, the whole has ${writeCount(rows, ws.locale)}. Nothing was sent. Check for changes of the data, then run again.`,
    );
}

/** Sends the message of one item, once. @returns false where another process has taken over */
async function sendItem(ws: Workspace, { each, name, today }: Given, message: ScheduleMessage, row: RunItem, mayFinish: () => boolean): Promise<boolean> {
  const { run, place, item } = row;
  if (row.state === "sending") {
    ws.catalogue.runs.updateItem(row, { error: "The process stopped while this message was being sent. It may have arrived, so it was not sent again." });
    return true;
  }
  if (row.state !== "made" || each.to === null || item.wrong !== null) return true;
  const files = (row.files ?? []).filter((f) => !f.path.endsWith(".eml"));
  const attached = files.map(({ path }) => ({ name: path.split("/").at(-1) ?? path, content: readFileSync(join(ws.outbox, path)) }));
  // A column of the list stands before what all messages of the run have.
  const own = { name, day: writeDate(today.day, ws.locale), rows: row.rows === null ? "" : writeCount(row.rows, ws.locale) };
  const words = { ...own, ...item.named };
  const made = await makeMessage(ws, { ...message, to: [item.to] }, words, attached, `${run}-${place}`);
  if (!mayFinish()) return false;
  const path = `${(files[0]?.path ?? "message").replace(/\.[^.]*$/, "")}.eml`;
  const part = join(ws.folder, "tmp", `run-${run}-item-${place}.eml`);
  writeFileSync(part, made.content);
  renameSync(part, join(ws.outbox, path));
  ws.catalogue.runs.updateItem(row, { state: "sending", files: [...files, { path, bytes: made.content.length }] });
  try {
    const sent = await sendMessage(made);
    // Without a mail server it lies in the outbox, and is as good as made.
    ws.catalogue.runs.updateItem(row, { state: sent ? "sent" : "made", error: null });
  } catch (error) {
    ws.catalogue.runs.updateItem(row, {
      state: "made",
      error: `The mail server refused the message: ${error instanceof Error ? error.message : String(error)}.`,
    });
  }
  return true;
}
