import { rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { DuckDBInstance } from "@duckdb/node-api";
import * as formulas from "@formulajs/formulajs";
import Database from "better-sqlite3";
import ExcelJS from "exceljs";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { PARENT } from "@/core/derive/parent";
import { emptyPivot, newAxis } from "@/core/pivot/empty";
import type { PivotSpec } from "@/core/pivot/spec";
import type { AggregateName } from "@/core/query/choices";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { GroupsDiffer, tellGroups } from "@/core/report/groups";
import { layOutReport, measureReport } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import { newLevel, planReport, type ReportPlan } from "@/core/report/plan";
import { planGroupRows } from "@/core/report/rowsBehind";
import type { FootingCell, Grouped, Insert, ReportLevel, ReportSpec, SummaryLine } from "@/core/report/spec";
import type { Cell } from "@/core/types/valueType";
import { writeReportFile } from "@/server/jobs/export/reportFile";
import { writeReportXlsx } from "@/server/jobs/export/reportXlsx";
import { insertReader } from "@/server/jobs/reports/inserts";
import { eachPage, layOutReportPages, prepare } from "@/server/jobs/reports/pages";
import type { ReportJob } from "@/server/jobs/work";
import { sqliteReading } from "@/server/source/read";
import type { Reading } from "@/server/source/reading";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { openReader, readRows } from "@/server/source/sqlite/readers";
import { temporaryFolder } from "../support/ledger";
import { context, plainMetrics, textsOf } from "../support/printed";
import { sampleRows, sampleSchema } from "../support/sample";

/*
 * Printed reports against other ways to the same figures: DuckDB's GROUP BY ROLLUP, plain SQL over the tables, and the
 * recount of the rows as they are laid out; and proofs that say no.
 */

const rows = sampleRows(20261130);
const db = new Database(":memory:");
let duck: Awaited<ReturnType<DuckDBInstance["connect"]>>;
beforeAll(async () => {
  registerFunctions(db);
  duck = await (await DuckDBInstance.create(":memory:")).connect();
  const types = { text: "VARCHAR", whole: "BIGINT", decimal: "BIGINT", floating: "DOUBLE", date: "DATE", timestamp: "TIMESTAMP", yesno: "BIGINT" } as const;
  for (const t of sampleSchema.tables) {
    db.exec(`CREATE TABLE "${t.name}" (${t.columns.map((c) => `"${c.name}"`).join(", ")})`);
    await duck.run(`CREATE TABLE "${t.name}" (${t.columns.map((c) => `"${c.name}" ${types[c.type.kind]}`).join(", ")})`);
    const insert = db.prepare(`INSERT INTO "${t.name}" VALUES (${t.columns.map(() => "?").join(", ")})`);
    for (const row of rows[t.name] ?? []) {
      insert.run(row.map((v, i) => (typeof v === "number" && t.columns[i]?.type.kind !== "floating" ? BigInt(v) : v)));
      const literal = row.map((v) => (v === null ? "NULL" : typeof v === "number" ? String(v) : `'${v.replaceAll("'", "''")}'`));
      await duck.run(`INSERT INTO "${t.name}" VALUES (${literal.join(", ")})`);
    }
  }
});
afterAll(() => {
  db.close();
  duck.closeSync();
});

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const crates: QuerySpec = {
  ...emptyQuery("crate"),
  joins: [{ id: "yard", from: "", link: "crate.yard_id", toward: "b", way: "keep" }],
  columns: [
    ...["mark", "day", "price", "mass", "pieces", "ratio", "sealed", "yard_id"].map((c) => ({ id: c, value: field(c) })),
    { id: "name", value: field("name", "yard"), label: "yard name" },
  ],
  order: [{ column: "day", direction: "up" }],
};
const level = (id: string, value: Grouped, more: Partial<ReportLevel> = {}): ReportLevel => ({ ...newLevel(id, value), ...more });
const of = (column: string, more: Partial<Extract<Grouped, { kind: "field" }>> = {}): Grouped => ({ kind: "field", column, ...more });
const figure = (name: AggregateName, more = {}): FootingCell => ({ kind: "figure", figure: name, ...more });
const parts = { left: "", center: "", right: "" };
const specOf = (more: Partial<ReportSpec> = {}): ReportSpec => ({
  version: 2,
  query: "q",
  title: "Crates",
  showBrief: false,
  levels: [],
  columns: ["mark", "day", "price", "pieces"].map((id) => ({ id, value: { kind: "field", column: id }, widthMm: null })),
  lines: [{ id: "f", text: "", cells: { price: figure("total"), pieces: figure("total") } }],
  shape: { kind: "table" },
  page: { paper: "A5", landscape: false, margins: { top: 10, right: 10, bottom: 10, left: 10 } },
  header: parts,
  footer: parts,
  parameters: {},
  ...more,
});
function planned(spec: ReportSpec, query = crates): ReportPlan {
  const checked = planReport(spec, query, sampleSchema, context);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  return checked.value;
}
const jobOf = (report: ReportPlan, query = crates): ReportJob => ({
  report,
  names: {},
  over: { query, schema: sampleSchema, context },
  inserts: {},
  texts: { brief: "", parameters: [], controls: [], printedAt: "now" },
  now: "2026-11-30T08:00:00Z",
  locale: { locale: "en-GB", zone: "UTC" },
  closing: [],
});
const read = (plan: ReportPlan["rows"]) => readRows(db, compileRows(plan, sqlite));
function printed(spec: ReportSpec, query = crates) {
  const report = planned(spec, query);
  const { layOut } = prepare(sqliteReading(db), jobOf(report, query));
  const pages: Page[] = [];
  const outline = eachPage(layOut(null, 1), (page) => void pages.push(page));
  return { report, outline, pages, texts: pages.flatMap((page) => textsOf(page).map((t) => t.text)) };
}

describe("the figures of a report", () => {
  it("are those of GROUP BY ROLLUP in another engine, level by level", async () => {
    const report = planned(specOf({ levels: [level("yard_id", of("yard_id")), level("mark", of("mark"))] }));
    const found: string[] = [];
    for (const told of tellGroups(report, { rows: read(report.rows), figures: (d) => read((report.figures[d] as (typeof report.figures)[number]).plan) })) {
      if (told.kind !== "close") continue;
      const { keys, depth, rows: count, read: cells } = told.group;
      const at = report.figures[depth]?.cells.f ?? {};
      found.push([...keys, ...Array(2 - depth).fill("·"), count, cells?.[at.price ?? -1], cells?.[at.pieces ?? -1]].map((c) => c ?? "∅").join(" | "));
    }
    const rollup = await duck.runAndReadAll(
      `SELECT CASE WHEN GROUPING(yard_id) = 1 THEN '·' ELSE COALESCE(CAST(yard_id AS VARCHAR), '∅') END,
        CASE WHEN GROUPING(mark) = 1 THEN '·' ELSE COALESCE(mark, '∅') END, COUNT(*), COALESCE(CAST(SUM(price) AS VARCHAR), '∅'), COALESCE(CAST(SUM(pieces) AS VARCHAR), '∅')
       FROM crate GROUP BY ROLLUP (yard_id, mark)`,
    );
    const wanted = rollup.getRows().map((r) => r.join(" | "));
    expect(wanted.length).toBeGreaterThan(50);
    expect(found.toSorted()).toEqual(wanted.toSorted());
  });

  it("agree with those of their rows, whatever the groups, figures, order and pages are; each row stands once", () => {
    const values: Grouped[] = [
      of("mark"),
      of("mark", { letters: 1 }),
      of("day", { part: "quarter" }),
      of("day", { part: "weekday" }),
      of("price", { band: { width: "1000" } }),
      of("pieces", { limits: ["0", "10"] }),
      of("name"),
      of("sealed"),
      { kind: "formula", text: "CASE WHEN price > 1000 THEN 'dear' ELSE 'cheap' END" },
    ];
    const cells: Record<string, FootingCell>[] = [
      { price: figure("total"), pieces: figure("median") },
      { price: figure("average"), pieces: figure("countDifferent"), mark: figure("list") },
      { price: figure("percentile", { percent: 90 }), day: figure("greatest"), pieces: figure("range") },
      { price: { kind: "formula", text: "SUM(price) / SUM(pieces)" }, mark: figure("first", { by: "day" }), pieces: figure("variance") },
    ];
    const random = fc.record({
      levels: fc.uniqueArray(fc.integer({ min: 0, max: values.length - 1 }), { maxLength: 3 }),
      cells: fc.integer({ min: 0, max: cells.length - 1 }),
      rank: fc.boolean(),
      first: fc.option(fc.integer({ min: 1, max: 4 })),
      down: fc.boolean(),
      every: fc.boolean(),
      carried: fc.boolean(),
      keepWhole: fc.boolean(),
      restart: fc.boolean(),
      totals: fc.boolean(),
      window: fc.constantFrom("running" as const, "share" as const, "difference" as const, null),
    });
    const seed = Number(process.env.RANDOM_SEED ?? 20261130);
    fc.assert(
      fc.property(random, (r) => {
        const levels = r.levels.map((v, i): ReportLevel => {
          const value = values[v] as Grouped;
          const isPart = value.kind === "field" && value.part !== undefined && value.part !== "weekday";
          return level(`l${i}`, value, {
            direction: r.down ? "down" : "up",
            ...(i === 0 && r.rank ? { order: { by: "figure", line: "f", column: "price" } } : {}),
            ...(i === 0 && r.first !== null ? { first: r.first } : {}),
            ...(r.every && isPart && !r.rank && r.first === null && i === r.levels.length - 1 ? { every: true } : {}),
            keepWhole: r.keepWhole,
            restart: i === 0 && r.restart,
          });
        });
        const spec = specOf({
          levels,
          lines: [
            { id: "f", text: "", cells: cells[r.cells] ?? {} },
            { id: "first", text: "{rows} before", before: true, cells: { pieces: figure("total") } },
          ],
          ...(r.carried ? { carried: ["price"] } : {}),
          ...(r.totals ? { details: false } : {}),
        });
        if (r.window)
          spec.columns.push({ id: "w", value: { kind: "field", column: "price" }, widthMm: null, window: { kind: r.window, level: levels[0]?.id ?? "" } });
        const { outline, texts, report } = printed(spec);
        expect(outline.proof, JSON.stringify(r)).toMatchObject({ rows: 90, agrees: true });
        expect(outline.proof.levels.every((l) => l.compared > 0)).toBe(true);
        expect(texts).not.toContain("…");
        if (r.first !== null && levels.length > 0) expect(outline.entries.filter((e) => e.level === 0).length).toBeLessThanOrEqual(r.first + 1);
        for (const entry of outline.entries) expect(entry.page).toBeGreaterThan(0);
        expect(report.rows.order.length).toBeGreaterThan(0);
      }),
      { numRuns: 120, seed },
    );
  }, 60_000);

  it("stand in the order of a figure, the largest first, with the rest as one behind", () => {
    const spec = specOf({ levels: [level("y", of("yard_id"), { order: { by: "figure", line: "f", column: "pieces" }, direction: "down", first: 3 })] });
    const { outline } = printed(spec);
    const sums = db.prepare("SELECT yard_id, SUM(pieces) AS sum, COUNT(*) AS n FROM crate GROUP BY yard_id ORDER BY sum DESC").all() as {
      yard_id: number | null;
      n: number;
    }[];
    const top = sums.slice(0, 3);
    expect(outline.entries.map((e) => [e.text, e.rows])).toEqual([
      ...top.map((t) => [t.yard_id === null ? "No yard_id" : String(t.yard_id), t.n]),
      ["All others", 90 - top.reduce((sum, t) => sum + t.n, 0)],
    ]);
  });

  it("tell in their headings, and in figures over their rows, how many rows follow and what they come to", () => {
    const wanted = db.prepare("SELECT COUNT(*) AS n, SUM(pieces) AS pieces FROM crate GROUP BY yard_id ORDER BY yard_id IS NULL, yard_id").all() as {
      n: number;
      pieces: number;
    }[];
    const over = { id: "o", text: "", before: true, levels: ["y"], cells: { pieces: figure("total") } };
    const spec = specOf({ levels: [{ ...level("y", of("yard_id")), heading: "has {rows}, {TOTAL(pieces)}" }], lines: [over] });
    const said = wanted.map(({ n, pieces }) => `has ${n}, ${pieces.toLocaleString("en-GB")}`);
    const { outline, texts } = printed(spec);
    expect(outline.entries.map((e) => e.text).sort()).toEqual([...said].sort());
    expect(texts.flatMap((t) => /, (\d+) rows?$/.exec(t)?.[1] ?? []).sort()).toEqual(wanted.map(({ n }) => String(n)).sort());
  });

  it("open the rows behind them, also those of the rest", () => {
    const spec = specOf({ levels: [level("y", of("yard_id"), { order: { by: "figure", line: "f", column: "pieces" }, direction: "down", first: 3 })] });
    const report = planned(spec);
    const behind = (keys: Cell[]) => {
      const made = planGroupRows(spec, crates, sampleSchema, context, keys);
      if (!made.ok) throw new Error(JSON.stringify(made.problems));
      return [...read(made.value)].length;
    };
    let told = 0;
    for (const event of tellGroups(report, { rows: read(report.rows), figures: (d) => read((report.figures[d] as (typeof report.figures)[number]).plan) }))
      if (event.kind === "close") {
        expect(behind(event.group.keys)).toBe(event.group.rows);
        told++;
      }
    expect(told).toBe(5);
  });

  it("are shown for groups without rows too, where that is asked for", () => {
    const days = (db.prepare("SELECT DISTINCT day FROM crate WHERE day BETWEEN '2024-01-01' AND '2026-12-31' ORDER BY day").all() as { day: string }[]).map(
      (d) => d.day,
    );
    const [from = "", to = ""] = [days[0], days.at(-1)];
    const query = {
      ...crates,
      conditions: [{ id: "w", left: field("day"), operator: "oneOf" as const, values: [from, to].map((text) => ({ kind: "value" as const, text })) }],
    };
    const quarters = (every: boolean) => printed(specOf({ levels: [level("m", of("day", { part: "quarter" }), { every })] }), query).outline;
    expect([quarters(false).entries.length, quarters(false).proof.agrees]).toEqual([2, true]);
    const index = (day: string) => Number(day.slice(0, 4)) * 4 + Math.floor((Number(day.slice(5, 7)) - 1) / 3);
    const wanted = Array.from({ length: index(to) - index(from) + 1 }, (_, i) => `Q${((index(from) + i) % 4) + 1} ${Math.floor((index(from) + i) / 4)}`);
    expect(wanted.length).toBeGreaterThan(6);
    expect(quarters(true).entries.map((e) => e.text)).toEqual(wanted);
    expect(quarters(true).proof.agrees).toBe(true);
  });
});

describe("related rows of a report", () => {
  const stamps = (under: string, more = {}) => ({
    id: "s",
    title: "Stamps",
    under,
    of: "",
    match: { kind: "link" as const, step: { link: "stamp.crate_id", toward: "a" as const } },
    hideEmpty: true,
    query: {
      ...emptyQuery("stamp"),
      columns: [
        { id: "n", value: field("id"), label: "number" },
        { id: "fee", value: field("fee") },
      ],
      order: [{ column: "n", direction: "up" as const }],
    },
    ...more,
  });
  const whole = () =>
    db.prepare("SELECT COUNT(*) AS n, SUM(fee) AS sum FROM stamp WHERE crate_id IN (SELECT id FROM crate)").get() as { n: number; sum: number };

  it("are those of their own query, under each row and under each group, each once", () => {
    const wanted = whole();
    for (const spec of [
      specOf({ related: [stamps("")] }),
      specOf({ levels: [level("y", of("yard_id"))], related: [stamps("y", { carried: true, keepWhole: true })] }),
      specOf({ levels: [level("y", of("yard_id")), level("m", of("mark"))], related: [stamps("m")] }),
    ]) {
      const { outline, texts } = printed(spec);
      const [sum] = outline.proof.related;
      expect([sum?.rows, Number(sum?.totals.fee), outline.proof.agrees]).toEqual([wanted.n, wanted.sum, true]);
      expect(texts.filter((t) => t === "Stamps").length).toBe(sum?.tables);
    }
  });

  it("may be held against the row they belong to, in a group of several such rows, too", () => {
    const dearer = (under: string) => {
      const table = stamps(under);
      const values = [{ ...field("price", PARENT) }];
      return { ...table, query: { ...table.query, conditions: [{ id: "c", left: field("fee"), operator: "atMost" as const, values }] } };
    };
    const { n } = db.prepare("SELECT COUNT(*) AS n FROM stamp JOIN crate ON crate.id = stamp.crate_id WHERE stamp.fee <= crate.price").get() as { n: number };
    const counts = ["", "m"].map((under) => printed(specOf({ levels: [level("m", of("mark"))], related: [dearer(under)] })).outline.proof.related[0]?.rows);
    expect(n).toBeGreaterThan(10);
    expect(n).toBeLessThan(whole().n);
    expect(counts).toEqual([n, n]);
  });

  it("come to the totals that a summary of their group adds up with its own figures", () => {
    const lines: SummaryLine[] = [
      { id: "p", text: "Price", of: { kind: "formula", text: "SUM(price)" } },
      { id: "f", text: "Fees", of: { kind: "related", table: "s", column: "fee" }, minus: true },
      { id: "n", text: "Net", of: { kind: "sum" } },
    ];
    const withSummary = (under: string, given = lines) =>
      specOf({ levels: [level("m", of("mark"))], related: [{ ...stamps(under), id: "s" }], summaries: [{ under: "m", lines: given }], lines: [] });
    const { texts } = printed(withSummary("m"));
    const said = texts.flatMap((t, i) => (t === "Net" ? [texts[i + 1]] : []));
    const wanted = db
      .prepare(
        `SELECT COALESCE(SUM(price), 0) - COALESCE((SELECT SUM(fee) FROM stamp JOIN crate c ON c.id = stamp.crate_id WHERE c.mark IS m.mark), 0) AS net
         FROM crate m GROUP BY mark ORDER BY mark IS NULL, mark`,
      )
      .all() as { net: number }[];
    const cents = (text: string | undefined) => Math.round(Number((text ?? "").replace(/[(),]/g, "")) * 100) * (text?.startsWith("(") ? -1 : 1);
    expect(said.map(cents).toSorted()).toEqual(wanted.map((w) => w.net).toSorted());
    expect(new Set(said).size).toBeGreaterThan(3);
    const refused = (spec: ReportSpec) => {
      const made = planReport(spec, crates, sampleSchema, context);
      return made.ok ? [] : made.problems.map((p) => p.code);
    };
    expect(refused(withSummary(""))).toEqual(["summaryGone"]);
    expect(refused(withSummary("m", [{ id: "x", text: "", of: { kind: "related", table: "s", column: "n" } }]))).toEqual(["summaryGone"]);
    expect(refused(withSummary("m"))).toEqual([]);
  });

  it("have their footing on a page with a row of them, and their headings again on each page", () => {
    for (let bottom = 10; bottom <= 210; bottom++) {
      const related = [stamps("l", { of: "" })];
      const levels = [level("l", { kind: "formula", text: "'all'" })];
      const { pages } = printed(
        specOf({ levels, details: false, related, page: { paper: "A4", landscape: false, margins: { top: 10, right: 10, bottom, left: 10 } } }),
      );
      const feet = pages.flatMap((p) => {
        const texts = textsOf(p).map((t) => t.text);
        const at = texts.findIndex((t) => /^Stamps, \d+ rows$/.test(t));
        return at < 0 ? [] : [texts.slice(0, at).filter((t) => /^\d+$/.test(t)).length];
      });
      expect(feet).toHaveLength(1);
      expect(feet[0]).toBeGreaterThan(0);
      const tables = pages.filter((p) => textsOf(p).some((t) => /^fee\b/i.test(t.text)));
      expect(tables.filter((p) => textsOf(p).some((t) => t.text === "Stamps, continued"))).toHaveLength(tables.length - 1);
    }
  });

  it("are let go where only some pages are asked for: the database is free for the next", async () => {
    const place = temporaryFolder();
    writeFileSync(join(place.folder, "b.sqlite"), db.serialize());
    const reader = openReader(join(place.folder, "b.sqlite"));
    // Tables that go on over pages, so that some row of one is always still to be read.
    const job = jobOf(planned(specOf({ levels: [level("l", { kind: "formula", text: "'all'" })], details: false, related: [stamps("l")] })));
    for (const at of [1, 2, 1]) {
      const { pages, outline } = await layOutReportPages(sqliteReading(reader), job, at, at);
      expect([pages.map((p) => p.number), outline.pages > 3, reader.inTransaction]).toEqual([[at], true, false]);
    }
    reader.close();
    place.remove();
  });

  it("stand within others, two levels deep", () => {
    const yards: QuerySpec = { ...emptyQuery("yard"), columns: [{ id: "name", value: field("name") }] };
    const { outline } = printed(
      specOf({
        columns: [{ id: "name", value: { kind: "field", column: "name" }, widthMm: null }],
        lines: [],
        related: [
          {
            ...stamps("", { related: [stamps("")] }),
            id: "c",
            title: "Crates",
            match: { kind: "link", step: { link: "crate.yard_id", toward: "a" } },
            query: {
              ...emptyQuery("crate"),
              columns: [
                { id: "mark", value: field("mark") },
                { id: "price", value: field("price") },
              ],
            },
          },
        ],
      }),
      yards,
    );
    const wanted = db.prepare("SELECT COUNT(*) AS n FROM stamp WHERE crate_id IN (SELECT id FROM crate WHERE yard_id IN (SELECT id FROM yard))").get() as {
      n: number;
    };
    expect(outline.proof.related.map((r) => [r.id, r.rows])).toEqual([
      ["c", (db.prepare("SELECT COUNT(*) AS n FROM crate WHERE yard_id IN (SELECT id FROM yard)").get() as { n: number }).n],
      ["s", wanted.n],
    ]);
  });
});

describe("formulas of rows with figures of their groups", () => {
  const formula = (id: string, text: string, more: Partial<ReportSpec["columns"][number]> = {}) => ({
    id,
    value: { kind: "formula" as const, text },
    widthMm: null,
    ...more,
  });
  const by = [level("y", of("yard_id")), level("m", of("mark"))];
  /** The values of a column, row by row, told apart by the crate's own number. */
  function valuesOf(spec: ReportSpec, column: string): Map<string, Cell> {
    const report = planned(spec);
    const at = report.columns.find((c) => c.spec.id === column)?.at ?? -1;
    const id = report.rows.columns.findIndex((c) => c.id === "source  id");
    return new Map([...read(report.rows)].map((row) => [String(row[id]), row[at] ?? null]));
  }
  it("are those of another engine's windows, over the groups of each level and over all rows", async () => {
    const columns = [
      formula("part", "100.0 * price / SUM(price)"),
      formula("off", "price - AVG(price)", { over: "y" }),
      formula("dear", "CASE WHEN price > MEDIAN(price) THEN COUNT(*) FILTER (WHERE pieces > 5) END", { over: "" }),
    ];
    const spec = specOf({ levels: by, columns, lines: [{ id: "f", text: "", cells: { off: figure("total") } }] });
    const wanted = (
      await duck.runAndReadAll(
        `SELECT CAST(id AS VARCHAR), 100.0 * price / SUM(price) OVER (PARTITION BY yard_id, mark), (price - AVG(price) OVER (PARTITION BY yard_id)) / 100,
         CASE WHEN price > MEDIAN(price) OVER () THEN COUNT(*) FILTER (WHERE pieces > 5) OVER () END FROM crate`,
      )
    ).getRows();
    const scaled = (cell: Cell | undefined, column: string): number | null => {
      const { type } = planned(spec).columns.find((c) => c.spec.id === column)?.column ?? {};
      return cell === null || cell === undefined ? null : Number(cell) / (type?.kind === "decimal" ? 10 ** type.scale : 1);
    };
    let compared = 0;
    for (const [i, column] of ["part", "off", "dear"].entries()) {
      const found = valuesOf(spec, column);
      for (const row of wanted) {
        const [own, other] = [scaled(found.get(String(row[0])), column), row[i + 1] === null ? null : Number(row[i + 1])];
        if (own === null || other === null || !Number.isFinite(other))
          expect(own === null, `${column} of ${row[0]}`).toBe(other === null || !Number.isFinite(other));
        else expect(Math.abs(own - other), `${column} of ${row[0]}: ${own}, ${other}`).toBeLessThan(0.011);
        compared++;
      }
    }
    expect(compared).toBe(270);
    const { outline } = printed(spec);
    expect([outline.proof.held.compared > 10, outline.proof.held.differ, outline.proof.agrees]).toEqual([true, 0, true]);
  });
  it("mark what is more than its group's average, and are refused in words where they cannot be read", () => {
    const marks = [{ when: "price > AVG(price)", tone: "ochre" as const, sign: "!" }];
    const base = specOf({ levels: [level("y", of("yard_id"))] });
    const spec = { ...base, columns: base.columns.map((c) => (c.id === "price" ? { ...c, marks } : c)) };
    const { n } = db.prepare("SELECT COUNT(*) AS n FROM (SELECT price > AVG(price) OVER (PARTITION BY yard_id) AS dear FROM crate) WHERE dear").get() as {
      n: number;
    };
    expect(printed(spec).texts.filter((t) => t === "!")).toHaveLength(n);
    const problems = (more: Partial<ReportSpec>) => {
      const made = planReport({ ...base, ...more }, crates, sampleSchema, context);
      return made.ok ? [] : made.problems.map((p) => [p.code, ...p.path.slice(0, 2)]);
    };
    expect(problems({ columns: [formula("x", "nobody / SUM(price)")] })).toEqual([["unknownField", "columns", 0]]);
    expect(problems({ columns: [formula("x", "price / SUM(nobody)")] })).toEqual([["unknownField", "columns", 0]]);
    const mark = { when: "SUM(price)", tone: "ochre" as const, sign: "!" };
    expect(problems({ columns: [formula("x", "price", { marks: [mark] })] })).toEqual([["reportCondition", "columns", 0]]);
    const ranked = level("y", of("yard_id"), { order: { by: "figure", line: "f", column: "x" } });
    const lines = [{ id: "f", text: "", cells: { x: figure("total") } }];
    expect(problems({ columns: [formula("x", "price / SUM(price)")], lines, levels: [ranked] })).toEqual([["groupOrderFigure", "levels", 0]]);
  });
  it("stand beside groups that are put together as the rest, and in a report without groups", () => {
    for (const spec of [
      specOf({ levels: [level("m", of("mark"), { first: 2 })], columns: [formula("share", "1.0 * pieces / SUM(pieces)")], lines: [] }),
      specOf({ columns: [formula("share", "1.0 * pieces / SUM(pieces)")], lines: [] }),
    ]) {
      const { outline } = printed(spec);
      expect([outline.proof.held.compared > 0, outline.proof.held.differ, outline.proof.rows]).toEqual([true, 0, 90]);
    }
  });
});

describe("the proof of a report", () => {
  const spec = specOf({ levels: [level("y", of("yard_id"))], carried: ["pieces"] });
  /** Lays a report out with rows or figures that are not those of the database. */
  function laid(change: {
    rows?: (rows: Cell[][], report: ReportPlan) => Cell[][];
    figures?: (rows: Cell[][], depth: number, report: ReportPlan) => Cell[][];
    spec?: ReportSpec;
  }) {
    const report = planned(change.spec ?? spec);
    const own = [...read(report.rows)];
    const input = {
      report,
      metrics: plainMetrics,
      locale: { locale: "en-GB", zone: "UTC" },
      texts: { brief: "", parameters: [], controls: [], printedAt: "" },
    };
    const sources = {
      rows: change.rows?.(own, report) ?? own,
      figures: (d: number) => {
        const lines = [...read((report.figures[d] as (typeof report.figures)[number]).plan)];
        return change.figures?.(lines, d, report) ?? lines;
      },
      related: () => ({ columns: [], rows: [], keys: () => null }),
      inserted: () => {
        throw new Error("no inserts");
      },
    };
    return eachPage(
      layOutReport(
        input,
        measureReport(input, own, null, () => []),
        sources,
        null,
      ),
      () => {},
    ).proof;
  }
  const at = (report: ReportPlan, depth: number) => report.figures[depth]?.cells.f?.pieces ?? -1;
  const more = (rows: Cell[][], line: number, place: number) =>
    rows.map((row, i) => (i === line ? row.map((cell, k) => (k === place ? Number(cell) + 1 : cell)) : row));

  it("says yes to what the database gives", () => {
    expect(laid({})).toMatchObject({ agrees: true, sums: { differ: 0 }, carried: { differ: 0 }, placed: { differ: 0 } });
  });
  it("says no where a group's footing is not that of its rows, and what is carried does not end in it", () => {
    const proof = laid({ figures: (lines, depth, report) => (depth === 1 ? more(lines, 2, at(report, 1)) : lines) });
    expect(proof).toMatchObject({ agrees: false, levels: [{ differ: 0 }, { differ: 1 }], sums: { differ: 1 }, placed: { differ: 1 } });
  });
  it("says no where the grand footing is not that of the groups", () => {
    expect(laid({ figures: (lines, depth, report) => (depth === 0 ? more(lines, 0, at(report, 0)) : lines) })).toMatchObject({
      agrees: false,
      levels: [{ differ: 1 }, { differ: 0 }],
      sums: { differ: 1 },
    });
  });
  it("says no where a row is missing, and where one is there twice", () => {
    expect(laid({ rows: (own) => own.toSpliced(40, 1) })).toMatchObject({ agrees: false, rows: 89 });
    expect(laid({ rows: (own) => own.toSpliced(40, 0, own[40] as Cell[]) })).toMatchObject({ agrees: false, rows: 91 });
  });
  it("says no where a figure that rows hold is not that of their group, or not the same in all of them", () => {
    const columns = [...spec.columns, { id: "part", value: { kind: "formula" as const, text: "price - AVG(price) + COUNT(*)" }, widthMm: null }];
    const holding = { ...spec, columns };
    const place = (report: ReportPlan) => report.rowFigures[0]?.places[0] ?? -1;
    const groups = new Set(rows.crate?.map((r) => r[1])).size;
    const held = (change: Parameters<typeof laid>[0]) => laid({ spec: holding, ...change });
    expect(held({})).toMatchObject({ agrees: true, held: { compared: 2 * groups, differ: 0 } });
    // In one row of its group, and in all of them.
    expect(held({ rows: (own, report) => more(own, 40, place(report)) })).toMatchObject({ agrees: false, held: { differ: 2 } });
    const all = (own: Cell[][], report: ReportPlan) => own.map((row) => more([row], 0, place(report))[0] as Cell[]);
    expect(held({ rows: all })).toMatchObject({ agrees: false, held: { differ: groups } });
  });
  it("refuses rows of groups that the figures do not know, and figures of groups that no row makes", () => {
    expect(() => laid({ figures: (lines, depth) => (depth === 1 ? lines.slice(0, -1) : lines) })).toThrow(GroupsDiffer);
    const strange = (report: ReportPlan, own: Cell[][]) =>
      own.map((row, i) => (i === own.length - 1 ? row.map((cell, k) => (k === report.levels[0]?.key ? 999 : cell)) : row));
    expect(() => laid({ rows: (own, report) => strange(report, own) })).toThrow(GroupsDiffer);
  });
});

it("reads values that do not fit their column as they are stored, and prints them so", () => {
  const schema = {
    ...sampleSchema,
    tables: sampleSchema.tables.map((t) => (t.name === "stamp" ? { ...t, columns: t.columns.map((c) => (c.name === "fee" ? { ...c, misfits: 1 } : c)) } : t)),
  };
  const query: QuerySpec = { ...emptyQuery("stamp"), columns: [{ id: "fee", value: field("fee") }], conditions: [] };
  const plan = resolveQuery(query, schema, context);
  const checked = planReport(specOf({ columns: [{ id: "fee", value: { kind: "field", column: "fee" }, widthMm: null }], lines: [] }), query, schema, context);
  if (!plan.ok || !checked.ok) throw new Error("not planned");
  const at = checked.value.columns[0]?.at ?? -1;
  expect(compileRows(checked.value.rows, sqlite).columns[at]?.raw).not.toBeNull();
});

it("is counted anew where what stands over its rows has changed, though its rows have not", async () => {
  const place = temporaryFolder();
  writeFileSync(join(place.folder, "b.sqlite"), db.serialize());
  const reader = openReader(join(place.folder, "b.sqlite"));
  const job = jobOf(planned(specOf({ showControls: true })));
  const pagesWith = async (controls: string[]) =>
    (await layOutReportPages(sqliteReading(reader), { ...job, texts: { ...job.texts, controls } }, 1, 1)).outline.pages;
  const few = await pagesWith(["The ledger, price: agrees."]);
  expect(await pagesWith(Array.from({ length: 60 }, (_, i) => `Ledger ${i}, price: agrees.`))).toBeGreaterThan(few);
  reader.close();
  place.remove();
});

it.each(["pdf", "html", "xlsx", "totals"] as const)("asks for its rows and for the figures of each depth once, as a file of the format %s", async (format) => {
  const place = temporaryFolder();
  const own = sqliteReading(db);
  const asked = new Map<string, number>();
  const counting: Reading = {
    ...own,
    ask(statement, most) {
      const what = JSON.stringify(statement);
      asked.set(what, (asked.get(what) ?? 0) + 1);
      return own.ask(statement, most);
    },
  };
  const job = jobOf(planned(specOf({ levels: [level("y", { kind: "field", column: "mark" })] })));
  const { rows } = await writeReportFile(counting, job, { path: join(place.folder, "report"), format });
  expect([[...asked.values()], rows > 10]).toEqual([[1, 1, 1], true]);
  place.remove();
});

describe("cross-tables of groups", () => {
  const pivot: PivotSpec = {
    ...emptyPivot("q"),
    down: [newAxis("m", field("mark"))],
    across: [newAxis("s", field("sealed"))],
    figures: [
      { id: "sum", value: field("price"), figure: "total", showAs: "asIs" },
      { id: "n", value: null, figure: "count", showAs: "asIs" },
    ],
  };
  const insert: Insert = { id: "i", kind: "pivot", of: "p", under: "l", at: "foot", heightMm: 60 };
  const withPivot = (value: Grouped, more: Partial<ReportLevel> = {}) => {
    const report = planned(specOf({ levels: [level("l", value, more)], inserts: [insert] }));
    return { ...jobOf(report), inserts: { i: { kind: "pivot", title: "Cross", spec: pivot } } } satisfies ReportJob;
  };
  it("hold the figures that another engine finds in the rows of the group, and the proof says so", async () => {
    const job = withPivot(of("yard_id"));
    const found: string[] = [];
    const read = insertReader(sqliteReading(db), job);
    const { outline } = await layOutReportPages(sqliteReading(db), job, 1, 1);
    for (const [yard] of (await duck.runAndReadAll("SELECT DISTINCT yard_id FROM crate")).getRows()) {
      const made = read(insert, [yard === null ? null : String(yard)]);
      if (made.kind !== "pivot") throw new Error("no pivot");
      const { down, across, cells } = made.pivot;
      for (const [i, d] of down.entries())
        for (const [k, a] of across.entries()) {
          const [sum, n] = cells.map((of) => of[i * across.length + k] ?? null);
          if (d.level === 1 && a.level === 1 && n !== null) found.push([yard, d.key, a.key, sum, n].map((c) => c ?? "∅").join(" | "));
        }
    }
    const wanted = await duck.runAndReadAll(
      `SELECT COALESCE(CAST(yard_id AS VARCHAR), '∅'), COALESCE(mark, '∅'), COALESCE(CAST(sealed AS VARCHAR), '∅'), COALESCE(CAST(SUM(price) AS VARCHAR), '∅'), COUNT(*)
       FROM crate GROUP BY yard_id, mark, sealed`,
    );
    const rows = wanted.getRows().map((r) => r.join(" | "));
    expect(rows.length).toBeGreaterThan(50);
    expect(found.toSorted()).toEqual(rows.toSorted());
    expect(outline.proof.inserts.compared).toBeGreaterThan(2);
    expect([outline.proof.inserts.differ, outline.proof.agrees]).toEqual([0, true]);
  });
  it("stand under the groups of their own level alone", async () => {
    const levels = [level("l", of("yard_id")), level("m", of("mark"))];
    const job = { ...jobOf(planned(specOf({ levels, inserts: [insert] }))), inserts: { i: { kind: "pivot" as const, title: "Cross", spec: pivot } } };
    const { outline } = await layOutReportPages(sqliteReading(db), job, 1, 1);
    const { n } = db.prepare("SELECT COUNT(*) AS n FROM (SELECT DISTINCT yard_id FROM crate)").get() as { n: number };
    expect(outline.proof.inserts).toEqual({ compared: n, differ: 0 });
  });
  it("leave rows out where the pivot has conditions of its own, which is no difference", async () => {
    const conditions = [{ id: "w", left: field("price"), operator: "atLeast" as const, values: [{ kind: "value" as const, text: "10" }] }];
    const job = { ...withPivot(of("yard_id")), inserts: { i: { kind: "pivot" as const, title: "Cross", spec: { ...pivot, conditions } } } };
    const { outline } = await layOutReportPages(sqliteReading(db), job, 1, 1);
    expect([outline.proof.inserts.compared > 2, outline.proof.inserts.differ]).toEqual([true, 0]);
  });
  it("are of the rows printed, whatever makes the groups: parts of dates, bands, letters, formulas, the rest of the first", async () => {
    const ways: [Grouped, Partial<ReportLevel>?][] = [
      [of("day", { part: "quarter" })],
      [of("price", { band: { width: "1000" } })],
      [of("name", { letters: 1 })],
      [{ kind: "formula", text: "CASE WHEN price > 1000 THEN 'dear' ELSE 'cheap' END" }],
      [of("mark"), { first: 2 }],
    ];
    for (const [value, more] of ways) {
      const { outline } = await layOutReportPages(sqliteReading(db), withPivot(value, more), 1, 1);
      expect([outline.proof.inserts.compared > 1, outline.proof.inserts.differ], JSON.stringify(value)).toEqual([true, 0]);
    }
  });
});

it("is counted anew where another file has taken the place of its database", async () => {
  const place = temporaryFolder();
  const path = join(place.folder, "b.sqlite");
  const job = jobOf(planned(specOf({})));
  const pagesOfFile = async (content: Buffer) => {
    rmSync(path, { force: true });
    writeFileSync(path, content);
    const reader = openReader(path);
    const { outline } = await layOutReportPages(sqliteReading(reader), job, 1, 1);
    reader.close();
    return outline.proof.rows;
  };
  const fewer = new Database(db.serialize());
  fewer.exec("DELETE FROM crate WHERE id > 10");
  const all = await pagesOfFile(db.serialize());
  expect(await pagesOfFile(fewer.serialize())).toBeLessThan(all);
  fewer.close();
  place.remove();
});

describe("a report as a workbook", () => {
  it("has formulas that an independent library works out to the printed figures, whatever is nested", async () => {
    const place = temporaryFolder();
    const path = join(place.folder, "report.xlsx");
    const spec = specOf({
      levels: [level("y", of("yard_id")), level("q", of("day", { part: "quarter" }))],
      lines: [
        { id: "f", text: "", cells: { price: figure("total"), pieces: figure("average") } },
        { id: "g", text: "{} again", levels: ["y", ""], cells: { price: figure("greatest"), pieces: figure("count") } },
      ],
    });
    await writeReportXlsx(sqliteReading(db), jobOf(planned(spec)), path);
    const book = new ExcelJS.Workbook();
    await book.xlsx.readFile(path);
    place.remove();
    const sheet = book.getWorksheet("report");
    type Formula = { formula: string; result: number };
    const isFormula = (value: unknown): value is Formula => typeof value === "object" && value !== null && "formula" in value;
    let worked = 0;
    sheet?.eachRow((row) => {
      row.eachCell((cell) => {
        if (!isFormula(cell.value)) return;
        const [, fn, column = "", from, to] = /^SUBTOTAL\((\d+),([A-Z]+)(\d+):[A-Z]+(\d+)\)$/.exec(cell.value.formula) ?? [];
        const cells = Array.from({ length: Number(to) - Number(from) + 1 }, (_, i) => sheet.getCell(`${column}${Number(from) + i}`).value);
        // What is a subtotal itself is passed over; what is empty is no value.
        const values = cells.filter((v) => !isFormula(v) && v !== null);
        const result = Number(formulas.SUBTOTAL(Number(fn), values as number[]));
        // The last digits of an average are kept to four more than its values have.
        expect(Math.abs(result - cell.value.result)).toBeLessThan(1e-4);
        worked++;
      });
    });
    expect(worked).toBeGreaterThan(100);
    const [[total] = []] = db.prepare("SELECT SUM(price) FROM crate").raw().all() as number[][];
    const last = sheet?.getRow((sheet.rowCount ?? 1) - 1);
    expect(last?.getCell(3).value).toMatchObject({ result: (total ?? 0) / 100 });
  });
});
