import { statSync } from "node:fs";
import { whenWords } from "@/core/brief/letterBrief";
import { type Filled, fillLetter, holds, type RelatedRows, totalsOf } from "@/core/letter/fill";
import { addressNotes, layOutLetter } from "@/core/letter/layOut";
import { relatedQuery, rowCells } from "@/core/letter/plan";
import { keyPlaces, withKeys } from "@/core/query/home";
import { type Names, namedColumns, namePlans, readNames } from "@/core/query/namePlan";
import type { Plan, PlanColumn } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { Page } from "@/core/report/page";
import { Tally } from "@/core/report/tally";
import { cellWriter, writeCount } from "@/core/types/format";
import { type Problem, ProblemError, problem } from "@/core/types/problem";
import type { Cell, ValueType } from "@/core/types/valueType";
import type { FileResult, LetterFile, LetterJob } from "@/server/jobs/work";
import { LastOf } from "@/server/source/lastOf";
import type { Reading } from "@/server/source/reading";
import { uniqueNames } from "./names";

/** Letters are worked out in the engine's process, one row after the other. */

type Metrics = ReturnType<typeof import("@/server/jobs/export/fonts")["fontMetrics"]>;
let metrics: Metrics | null = null;
const printing = async (): Promise<Metrics> => {
  metrics ??= (await import("@/server/jobs/export/fonts")).fontMetrics();
  return metrics;
};

/** How many rows a table of one letter has at most: they are held in memory, and nobody reads as many. */
const MOST_RELATED = 20_000;

/** The rows of each of a letter's tables. @param only the id of the one that is wanted @throws ProblemError where one cannot be asked, or is too long */
function relatedRows(reading: Reading, job: LetterJob, cells: Cell[], only?: string): Map<string, RelatedRows> {
  const { plan, query, schema, context } = job;
  const { table } = plan;
  if (!table) return new Map();
  const own = rowCells(plan, cells);
  return new Map(
    plan.related
      .filter((r) => only === undefined || r.id === only)
      .map((related) => {
        const made = relatedQuery(related, query, table, own, schema);
        const resolved = made.ok ? resolveQuery(made.value, schema, context) : made;
        if (!resolved.ok) throw new ProblemError(resolved.problems);
        const columns = namedOf(reading, resolved.value, job);
        const keyed = withKeys(resolved.value);
        const rows = [...reading.ask({ of: "rows", plan: keyed, window: { offset: 0, rows: MOST_RELATED + 1 } })];
        if (rows.length > MOST_RELATED)
          throw new ProblemError([
            { code: "letterLong", path: ["tables", related.id], detail: { table: related.title, most: writeCount(MOST_RELATED, job.locale) } },
          ]);
        return [related.id, { columns, rows, keys: columns.map((c) => keyPlaces(c, keyed)) }];
      }),
  );
}

/** What rows of a table are called, read once for all letters of a job. */
const namesRead = new WeakMap<LetterJob, Map<string, Names>>();

/** A plan's columns, written by the names of the rows that they lead to. */
function namedOf(reading: Reading, plan: Plan, job: LetterJob): PlanColumn[] {
  const known = namesRead.get(job) ?? new Map<string, Names>();
  namesRead.set(job, known);
  const read = ([id, names]: [string, Plan]): [string, Names] => {
    const { name } = names.source.table;
    const found = known.get(name) ?? readNames(names, reading.ask({ of: "rows", plan: names }));
    known.set(name, found);
    return [id, found];
  };
  return namedColumns(plan.columns, Object.fromEntries(Object.entries(namePlans(plan, job.schema, job.context)).map(read)));
}

const rowsOf = (reading: Reading, { plan }: LetterJob): Cell[][] => [...reading.ask({ of: "rows", plan: plan.plan })];

/** The name of a letter's file, as its formula has it; its place where there is no formula, or it comes out empty. */
function nameOf({ plan, locale }: LetterJob, cells: Cell[], at: number): string {
  const column = plan.fileName === null ? undefined : plan.plan.columns[plan.fileName];
  const name = column ? cellWriter(column.type, { date: "iso", ...column.format, grouping: false }, locale)(cells[plan.fileName ?? 0] ?? null).text.trim() : "";
  return name || String(at + 1);
}

/** A row that gets no letter: what its file would be called, and whether the condition is not met, or has no answer for it. */
export type Without = { name: string; why: "unmet" | "empty" };
type Sorted = { letters: Cell[][]; without: Without[] };

const lastSorted = new LastOf<Sorted>();

/** The rows that get a letter, in order; and those that get none. */
function sortRows(reading: Reading, job: LetterJob): Sorted {
  const { only } = job.spec;
  if (!only) return { letters: rowsOf(reading, job), without: [] };
  return lastSorted.of(reading, [only, job.plan, job.query, job.context, job.locale], () => {
    const sorted: Sorted = { letters: [], without: [] };
    for (const [at, cells] of rowsOf(reading, job).entries()) {
      const tables = only.kind === "rows" ? relatedRows(reading, job, cells, only.table) : new Map();
      if (holds(only, job.plan, cells, tables)) sorted.letters.push(cells);
      else {
        const answer = only.kind === "formula" ? cells[job.plan.conditions[only.text] ?? -1] : undefined;
        sorted.without.push({ name: nameOf(job, cells, at), why: answer === null ? "empty" : "unmet" });
      }
    }
    return sorted;
  });
}

/** The row of one letter, and how many letters there are. */
function rowAt(reading: Reading, job: LetterJob, at: number): { cells: Cell[] | undefined; count: number } {
  if (job.spec.only) {
    const { letters } = sortRows(reading, job);
    return { cells: letters[at], count: letters.length };
  }
  const [cells] = reading.ask({ of: "rows", plan: job.plan.plan, window: { offset: at, rows: 1 } });
  const [footing] = reading.ask({ of: "footing", plan: job.plan.plan });
  return { cells, count: Number(footing?.[0] ?? 0) };
}

/** One letter on its pages. @param at counted from 0 */
export async function letterPages(
  reading: Reading,
  job: LetterJob,
  at: number,
): Promise<{ pages: Page[]; count: number; name: string; empty: string[]; notes: string[] }> {
  const widths = await printing();
  const { cells, count } = rowAt(reading, job, at);
  if (!cells) return { pages: [], count, name: "", empty: [], notes: [] };
  const filled = fill(reading, job, cells);
  return {
    pages: layOutLetter(job.spec, filled.letter, widths),
    count,
    name: nameOf(job, cells, at),
    empty: filled.empty,
    notes: addressNotes(job.spec, filled.letter, widths),
  };
}

const fill = (reading: Reading, job: LetterJob, cells: Cell[], tables = relatedRows(reading, job, cells)): Filled => {
  const { plan } = job.plan;
  return fillLetter(job.spec, { ...job.plan, plan: { ...plan, columns: namedOf(reading, plan, job) } }, cells, tables, job.locale);
};

/** What all letters together came to: their names, and for each table and field what was printed of it. */
export type LetterSurvey = {
  letters: number;
  names: string[];
  /** Rows of the query that get no letter: how many, and the first of them. */
  without: { count: number; first: Without[] };
  /** Rows of the letters' table, each counted once; null where the query groups rows. */
  different: number | null;
  tables: { id: string; withRows: number; rows: number; totals: Record<string, Cell>; columns: { id: string; heading: string; type: ValueType }[] }[];
  empty: Record<string, number>;
};

const MOST_NAMES = 1000;

/** Goes through all letters without laying them out. */
export function surveyLetters(reading: Reading, job: LetterJob): LetterSurvey {
  const { letters: rows, without } = sortRows(reading, job);
  const keys = new Set<string>();
  const empty: Record<string, number> = {};
  const seen = new Map<string, { withRows: number; rows: number; columns: RelatedRows["columns"]; tallies: Map<string, Tally> }>();
  for (const cells of rows) {
    const tables = relatedRows(reading, job, cells);
    for (const formula of fill(reading, job, cells, tables).empty) empty[formula] = (empty[formula] ?? 0) + 1;
    if (job.plan.table) keys.add(JSON.stringify(job.plan.table.key.map((name) => cells[job.plan.row[name] ?? -1] ?? null)));
    for (const [id, found] of tables) {
      const sum = seen.get(id) ?? {
        withRows: 0,
        rows: 0,
        columns: found.columns,
        tallies: new Map(found.columns.flatMap((c) => (c.totalled && !c.hidden ? [[c.id, new Tally(c.type)] as const] : []))),
      };
      seen.set(id, sum);
      sum.withRows += found.rows.length > 0 ? 1 : 0;
      sum.rows += found.rows.length;
      const totals = totalsOf(found);
      for (const [at, column] of found.columns.entries()) sum.tallies.get(column.id)?.add(totals[at] ?? null);
    }
  }
  return {
    letters: rows.length,
    names: uniqueNames(rows.slice(0, MOST_NAMES).map((cells, at) => nameOf(job, cells, at))),
    without: { count: without.length, first: without.slice(0, MOST_NAMES) },
    different: job.plan.table && job.plan.table.key.length > 0 ? keys.size : null,
    tables: [...seen].map(([id, { withRows, rows, columns, tallies }]) => ({
      id,
      withRows,
      rows,
      totals: Object.fromEntries([...tallies].map(([column, tally]) => [column, tally.figure("total")])),
      columns: columns.flatMap((c) => (tallies.has(c.id) ? [{ id: c.id, heading: c.heading, type: c.type }] : [])),
    })),
    empty,
  };
}

function noneProblem({ spec }: LetterJob, without: Without[]): Problem {
  if (!spec.only || without.length === 0) return problem("letterNone", []);
  return problem("letterNoneMeant", ["only"], { when: whenWords(spec.only, (id) => spec.tables.find((t) => t.id === id)?.title ?? "") });
}

/** Writes all letters to one PDF, or each to its own in a ZIP; whole or not at all. @throws ProblemError letterNone, letterNoneMeant */
export async function writeLetters(reading: Reading, job: LetterJob, { path, format, title }: LetterFile): Promise<FileResult & { pages: number }> {
  const widths = await printing();
  const [{ writePdf, pdfBuffer }, { zipFile }] = await Promise.all([import("@/server/jobs/export/pdf"), import("@/server/jobs/archive")]);
  const info = { title, lang: job.locale.locale };
  const { letters: rows, without } = sortRows(reading, job);
  if (rows.length === 0) throw new ProblemError([noneProblem(job, without)]);
  const names = uniqueNames(rows.map((cells, at) => nameOf(job, cells, at)));
  let pages = 0;
  const laid = (cells: Cell[]): Page[] => {
    const made = layOutLetter(job.spec, fill(reading, job, cells).letter, widths);
    pages += made.length;
    return made;
  };
  if (format === "pdf")
    await writePdf(path, info, (doc, addPage) => {
      rows.forEach((cells, at) => {
        laid(cells).forEach((page, i) => {
          addPage(page);
          if (i === 0) doc.outline.addItem(names[at] ?? "");
        });
      });
    });
  else
    await zipFile(path, async (add) => {
      for (const [at, cells] of rows.entries()) {
        const letter = laid(cells);
        await add(`${names[at]}.pdf`, await pdfBuffer({ ...info, title: names[at] ?? title }, (_, addPage) => letter.forEach(addPage)));
      }
    });
  return { rows: rows.length, bytes: statSync(path).size, totals: {}, pages };
}
