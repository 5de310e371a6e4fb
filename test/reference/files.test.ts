import { createHash } from "node:crypto";
import { mkdirSync, readdirSync, readFileSync, renameSync, symlinkSync, utimesSync, writeFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { DuckDBInstance } from "@duckdb/node-api";
import Database from "better-sqlite3";
import { parse } from "csv-parse/sync";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import * as edit from "@/core/query/edit";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { firstReport, newLevel } from "@/core/report/plan";
import type { Column } from "@/core/schema/schema";
import { findTable, type Table } from "@/core/schema/schema";
import { rescale } from "@/core/types/decimal";
import type { Cell } from "@/core/types/valueType";
import { Engine } from "@/server/engine/engine";
import { footingOf, planOf, proofOf, rowsOf } from "@/server/services/queries/service";
import { reportJob, writeReport } from "@/server/services/reports/service";
import { sweepLeftovers } from "@/server/services/workspace/sweep";
import type { Workspace } from "@/server/services/workspace/workspace";
import { withReader } from "@/server/source/sqlite/readers";
import { generateCompany } from "../../demo/generate";
import { endless } from "../support/endless";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

let place: ReturnType<typeof temporaryFolder>;
let ledger: Workspace | null = null;
beforeEach(() => {
  place = temporaryFolder();
});
afterEach(() => {
  ledger?.close();
  ledger = null;
  place.remove();
});

const caller = { client: "test" };
const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const open = (script: string) => {
  ledger = openLedger(place.folder, makeDatabase(join(place.folder, "b.sqlite"), script));
  return ledger;
};
const columnsOf = async (ws: Workspace, table: string) =>
  Object.fromEntries(((await ws.schema()).tables.find((t) => t.name === table)?.columns ?? []).map((c) => [c.name, c]));
const allRows = async (ws: Workspace, spec: QuerySpec) => JSON.parse((await rowsOf(ws, { spec, values: {} }, { offset: 0, rows: 1000 }, caller)).toString());
const allOf = async (ws: Workspace, table: string): Promise<QuerySpec> => ({ ...emptyQuery(table), columns: edit.firstColumns(await ws.schema(), table) });

describe("opening any SQLite file", () => {
  it("reads types from declarations and from all values", async () => {
    const ws = open(`
      CREATE TABLE "t" (a INTEGER PRIMARY KEY, day TEXT, almost TEXT, at TEXT, paid DECIMAL(10,2), digits NUMERIC(12,3), yes BOOLEAN, real REAL, word VARCHAR(9), bare, cents INTEGER_SCALED(2));
      INSERT INTO t VALUES (1, '2026-01-31', '2026-01-31', '2026-01-31 10:00:00', 12.34, 1.5, 1, 0.1, 'x', 3, 1234),
                           (2, NULL, '2026-02-30', '2026-01-31T10:00', -0.1, 2, 0, 2, '7', 4, -5);`);
    const kind = Object.fromEntries(Object.entries(await columnsOf(ws, "t")).map(([name, c]) => [name, (c as Column).type.kind]));
    expect(kind).toEqual({
      a: "whole",
      day: "date",
      almost: "text",
      at: "timestamp",
      paid: "decimal",
      digits: "decimal",
      yes: "yesno",
      real: "floating",
      word: "text",
      bare: "whole",
      cents: "decimal",
    });
    const footing = await footingOf(ws, { spec: await allOf(ws, "t"), values: {} }, caller);
    expect(footing.totals).toMatchObject({ c5: 1224, c6: 3500, c11: 1229 });
  });

  it("shows values that do not fit as they are stored, counts them, and never adds them up as 0", async () => {
    const ws = open(`CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER, paid DECIMAL(9,2), day DATE);
      INSERT INTO t VALUES (1, 5, 1.25, '2026-01-01'), (2, 'n/a', 1.255, '2026-02-30'), (3, NULL, 'lots', '01/02/2026');`);
    const spec = await allOf(ws, "t");
    expect(await allRows(ws, spec)).toEqual([
      [1, 5, 125, "2026-01-01"],
      [2, { misfit: "n/a" }, { misfit: "1.255" }, { misfit: "2026-02-30" }],
      [3, null, { misfit: "lots" }, { misfit: "01/02/2026" }],
    ]);
    const { totals, misfits } = await footingOf(ws, { spec, values: {} }, caller);
    expect([totals, misfits]).toEqual([
      { c2: 5, c3: 125 },
      { c2: 1, c3: 2, c4: 2 },
    ]);
  });

  it("keeps the text of values that do not fit within reach of formulas and conditions, counted alike a second time", async () => {
    const ws = open(`CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER, paid DECIMAL(9,2), word TEXT, v REAL);
      INSERT INTO t VALUES (1, 5, 1.25, 'a', 1.5), (2, 'n/a', '77,33 €', x'c3a9', '£40'), (3, NULL, 1.2555, 'c', 2), (4, 7, 1e21, 'd', NULL);`);
    const formula = (id: string, text: string) => ({ id, value: { kind: "formula" as const, text } });
    const spec: QuerySpec = {
      ...emptyQuery("t"),
      columns: [
        { id: "i", value: field("id") },
        formula("paid", "CAST(paid AS TEXT)"),
        formula("clean", "CAST(REPLACE(REPLACE(CAST(paid AS TEXT), ' €', ''), ',', '.') AS DECIMAL(9, 2))"),
        formula("n", "n || '.'"),
        formula("word", "CAST(word AS TEXT)"),
        formula("v", "CAST(REPLACE(CAST(v AS TEXT), '£', '') AS INTEGER)"),
      ],
    };
    expect(await allRows(ws, spec)).toEqual([
      [1, "1.25", 125, "5.", "a", 2],
      [2, "77,33 €", 7733, "n/a.", "é", 40],
      [3, "1.2555", 126, null, "c", 2],
      [4, "1.0e+21", null, "7.", "d", null],
    ]);
    const { totals } = await footingOf(ws, { spec, values: {} }, caller);
    expect(totals).toMatchObject({ clean: 125 + 7733 + 126 });
    const unfit = {
      ...spec,
      conditions: [{ id: "c", left: formula("", "CAST(paid AS TEXT)").value, operator: "contains" as const, values: [{ kind: "value" as const, text: "€" }] }],
    };
    expect(await allRows(ws, unfit)).toHaveLength(1);
    for (const asked of [spec, unfit]) expect((await proofOf(ws, { spec: asked, values: {} }, caller)).agrees).toBe(true);
  });

  it("leaves them empty in formulas over a query’s rows, in a report’s rows as in the figures of its groups", async () => {
    const ws = open(`CREATE TABLE t (id INTEGER PRIMARY KEY, place TEXT, paid DECIMAL(9,2));
      INSERT INTO t VALUES (1, 'a', 1.25), (2, 'a', '77,33 €'), (3, 'b', 1.2555), (4, 'b', NULL), (5, 'b', '4 €');`);
    const spec = await allOf(ws, "t");
    const { id } = ws.catalogue.create("query", "Q", spec);
    const formula = (name: string, text: string) => ({ id: name, value: { kind: "formula" as const, text }, widthMm: null });
    const clean = "CAST(REPLACE(REPLACE(CAST(paid AS TEXT), ' €', ''), ',', '.') AS DECIMAL(9, 2))";
    const first = firstReport(id, "Q", await planOf(ws, spec, {}));
    const report = {
      ...first,
      levels: [{ ...newLevel("c2"), id: "p" }],
      columns: [formula("text", "CAST(paid AS TEXT)"), formula("clean", clean), formula("part", `${clean} / SUM(${clean})`)],
      lines: [
        {
          id: "f",
          text: "{COUNT(DISTINCT CAST(paid AS TEXT))} and {MAX(CAST(paid AS TEXT))}",
          cells: { text: { kind: "figure" as const, figure: "list" as const }, clean: { kind: "figure" as const, figure: "total" as const } },
        },
      ],
    };
    const { pages, outline } = await ws.engine.run<"reportPages">(
      { kind: "reportPages", database: ws.database, report: await reportJob(ws, report), from: 1, to: 1 },
      caller,
    );
    const texts = pages.flatMap((p) => p.items.flatMap((i) => (i.kind === "text" ? [i.text] : [])));
    expect(texts.filter((t) => /^[\d.]+$/.test(t))).toEqual(["1.25", "1.25", "1.000000", "1.25", "1.25", "1.25", "1.25"]);
    expect(texts.some((t) => /\d €/.test(t))).toBe(false);
    expect(outline.proof.agrees).toBe(true);
  });

  it("counts rows for which a formula is empty though a part of it has a value", async () => {
    const ws = open(`CREATE TABLE t (id INTEGER PRIMARY KEY, street TEXT, city TEXT, a INTEGER, b INTEGER);
      INSERT INTO t VALUES (1, 'Quay 1', 'Pell', 1, 2), (2, 'Quay 2', NULL, NULL, 3), (3, NULL, NULL, NULL, NULL), (4, NULL, 'Mirrin', 4, NULL), (5, 'x', NULL, 0, 0);`);
    const formula = (id: string, text: string) => ({ id, value: { kind: "formula" as const, text } });
    const columns = [
      formula("joined", "UPPER(TRIM(street) || ', ' || city)"),
      formula("sum", "a + b * 2"),
      formula("kept", "CONCAT_WS(', ', street, city)"),
      formula("chosen", "CASE WHEN a > 1 THEN a + b END"),
      formula("one", "street || '.'"),
      formula("ratio", "a / NULLIF(b, 0)"),
    ];
    const spec: QuerySpec = { ...emptyQuery("t"), columns };
    const { emptied } = await footingOf(ws, { spec, values: {} }, caller);
    expect(emptied.map((e) => [e.column, e.isText, e.rows])).toEqual([
      ["joined", true, 3],
      ["sum", false, 2],
    ]);
    const first = { ...spec, limit: 2 };
    expect((await footingOf(ws, { spec: first, values: {} }, caller)).emptied).toEqual([]);
  });

  it("takes names with quotes, spaces and emoji, a table without a key, no rows, and 200 columns", async () => {
    const wide = Array.from({ length: 200 }, (_, i) => `c${i} INTEGER`).join(", ");
    const ws =
      open(`CREATE TABLE "we ""quote"" 🦭" ("a b" TEXT, "it's" INTEGER, "ключ 🔑" TEXT); INSERT INTO "we ""quote"" 🦭" VALUES ('x', 1, 'y'), ('x', 1, 'y');
      CREATE TABLE wide (${wide}); INSERT INTO wide (c0, c199) VALUES (1, 2); CREATE TABLE hollow (id INTEGER PRIMARY KEY, word TEXT);`);
    const odd = await allOf(ws, 'we "quote" 🦭');
    expect(await allRows(ws, odd)).toHaveLength(2);
    expect((await footingOf(ws, { spec: odd, values: {} }, caller)).totals.c2).toBe(2);
    const [row] = await allRows(ws, await allOf(ws, "wide"));
    expect([row.length, row[0], row[199]]).toEqual([200, 1, 2]);
    const nothing = await allOf(ws, "hollow");
    expect([await allRows(ws, nothing), (await proofOf(ws, { spec: nothing, values: {} }, caller)).agrees]).toEqual([[], true]);
  });

  it("tells apart two links to one table, and links to oneself; sees a change of the file", async () => {
    const ws = open(
      `CREATE TABLE port (id INTEGER PRIMARY KEY, name TEXT); CREATE TABLE leg (id INTEGER PRIMARY KEY, from_port_id INTEGER REFERENCES port, to_port_id INTEGER REFERENCES port(id), after INTEGER REFERENCES leg(id));`,
    );
    const { links } = await ws.schema();
    expect(links.map((l) => [l.b.name, l.a.name])).toEqual([
      ["from port", "legs by from port"],
      ["to port", "legs by to port"],
      ["after", "legs by after"],
    ]);
    const db = new Database(ws.database);
    db.exec("CREATE TABLE later (id INTEGER PRIMARY KEY)");
    db.close();
    expect((await ws.schema()).tables.map((t) => t.name)).toContain("later");
  });

  it("opens although a view cannot be read, and says which and why", async () => {
    const ws = open(`
      CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO t VALUES (1, 10);
      CREATE TABLE gone (id INTEGER PRIMARY KEY);
      CREATE VIEW dropped AS SELECT * FROM gone; DROP TABLE gone;
      CREATE VIEW unknown AS SELECT no_such_function(n) AS n FROM t;
      CREATE VIEW turning AS SELECT * FROM round; CREATE VIEW round AS SELECT * FROM turning;
      CREATE VIEW endless AS WITH RECURSIVE c(i) AS (SELECT 1 UNION ALL SELECT i FROM c) SELECT COUNT(*) AS n FROM c;
      CREATE VIEW fine AS SELECT n FROM t;`);
    ws.viewLimitMs = 700;
    const { tables, broken = [] } = await ws.schema();
    expect(tables.map((t) => t.name)).toEqual(["fine", "t"]);
    expect(broken.map((b) => [b.kind, b.id])).toEqual(["dropped", "round", "turning", "unknown", "endless"].map((id) => ["view", id]).sort());
    expect(broken.find((b) => b.id === "endless")?.why).toContain("too long");
    expect(broken.find((b) => b.id === "unknown")?.why).toContain("no_such_function");
    expect(await allRows(ws, await allOf(ws, "t"))).toEqual([[1, 10]]);
  });

  it("reads the file that was moved over it, not the one it had open", async () => {
    const ws = open("CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO t VALUES (1, 10);");
    const spec = await allOf(ws, "t");
    expect(await allRows(ws, spec)).toEqual([[1, 10]]);
    const restored = join(place.folder, "restored.sqlite");
    makeDatabase(restored, "CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO t VALUES (1, 20), (2, 30);");
    renameSync(restored, ws.database);
    const found = () =>
      allRows(ws, spec).then((rows) =>
        expect(rows).toEqual([
          [1, 20],
          [2, 30],
        ]),
      );
    // Each process had the old one open.
    for (let i = 0; i < 6; i++) await found();
  });

  it.each([
    ["is no database", (path: string) => writeFileSync(path, "name;amount\n"), "The file is not a SQLite database."],
    ["is missing", () => {}, "The database file is missing."],
  ])("says in a sentence when the file %s", async (_, prepare, words) => {
    const path = join(place.folder, "other.sqlite");
    prepare(path);
    ledger = openLedger(place.folder, path);
    await expect((async () => ledger?.schema())()).rejects.toThrow(words);
  });

  it("says in a sentence when another program holds the file locked", async () => {
    const ws = open("CREATE TABLE t (id INTEGER PRIMARY KEY); INSERT INTO t VALUES (1);");
    const other = new Database(ws.database);
    other.exec("BEGIN EXCLUSIVE");
    await expect(ws.schema()).rejects.toThrow("Another program has locked the database.");
    other.exec("COMMIT");
    other.close();
    expect((await ws.schema()).tables).toHaveLength(1);
  });

  it("refuses a total of more than 18 digits rather than round it", async () => {
    const ws = open("CREATE TABLE t (id INTEGER PRIMARY KEY, n INTEGER); INSERT INTO t VALUES (1, 9223372036854775807), (2, 9223372036854775807);");
    const spec = await allOf(ws, "t");
    expect((await allRows(ws, spec))[0][1]).toBe("9223372036854775807");
    // Numbers of so many digits are names, and not added up unless a person says so.
    expect((await footingOf(ws, { spec, values: {} }, caller)).totals).toEqual({});
    expect((await proofOf(ws, { spec, values: {} }, caller)).agrees).toBe(true);
    const added = { ...spec, columns: spec.columns.map((c) => ({ ...c, footing: "total" as const })) };
    await expect(footingOf(ws, { spec: added, values: {} }, caller)).rejects.toThrow("more than 18 digits");
  });
  it("says of a number asked for that it is too long, wherever its digits come from", async () => {
    const ws = open("CREATE TABLE t (id INTEGER PRIMARY KEY, amount DECIMAL(9,2)); INSERT INTO t VALUES (1, 1.00);");
    const below = async (text: string) =>
      footingOf(
        ws,
        {
          spec: { ...(await allOf(ws, "t")), conditions: [{ id: "w", left: field("amount"), operator: "less", values: [{ kind: "value", text }] }] },
          values: {},
        },
        caller,
      );
    expect((await below("9999999999999999")).rows).toBe(1);
    // Of 17 digits as it is written, of 19 in hundredths.
    await expect(below("99999999999999999")).rejects.toThrow("more than 18 digits");
    await expect(below("9".repeat(40))).rejects.toThrow("more than 18 digits");
  });
});

describe("CSV, after RFC 4180", () => {
  const nasty = ["plain", 'with "quotes"', "comma, and ; semicolon", "tab\tin it", "line\r\nbreak", "\nline", " blanks ", "", "=1+1", "ünï🦭"];
  it.each([
    ["csv", ","],
    ["tsv", "\t"],
  ] as const)("reads back the same with an independent reader; lines end in CRLF, a heading first: %s", async (format, delimiter) => {
    const values = nasty.map((v, i) => `(${i + 1}, '${v.replaceAll("'", "''")}', ${i - 4}.5)`).join(", ");
    const ws = open(`CREATE TABLE t (id INTEGER PRIMARY KEY, word TEXT, paid DECIMAL(9,2)); INSERT INTO t VALUES ${values};`);
    const path = join(place.folder, `out.${format}`);
    const plan = await planOf(ws, await allOf(ws, "t"), {});
    const result = await ws.engine.run<"export">({ kind: "export", format, database: ws.database, plan, path }, caller);
    const text = readFileSync(path, "utf8");
    expect(parse(text, { delimiter })).toEqual([["Id", "Word", "Paid"], ...nasty.map((v, i) => [String(i + 1), v, `${i - 4}.50`])]);
    expect(text.endsWith("\r\n")).toBe(true);
    expect([result.rows, result.totals]).toEqual([nasty.length, { c3: nasty.reduce((sum, _, i) => sum + Number(`${i - 4}.50`) * 100, 0) }]);
  });
  it("is guarded against being run where that is asked for: texts, never numbers, and no export without it", async () => {
    const ws = open(
      `CREATE TABLE t (id INTEGER PRIMARY KEY, word TEXT, paid DECIMAL(9,2)); INSERT INTO t VALUES (1, '=1+1', -5), (2, '@x', 2), (3, '-7', 0), (4, 'a=b', 1);`,
    );
    const plan = await planOf(ws, await allOf(ws, "t"), {});
    const words = async (guarded: boolean) => {
      const path = join(place.folder, `out-${guarded}.csv`);
      await ws.engine.run<"export">({ kind: "export", format: "csv", database: ws.database, plan, path, guarded }, caller);
      return (parse(readFileSync(path, "utf8")) as string[][]).slice(1).map(([, word, paid]) => `${word} ${paid}`);
    };
    expect(await words(true)).toEqual(["'=1+1 -5.00", "'@x 2.00", "'-7 0.00", "a=b 1.00"]);
    expect(await words(false)).toEqual(["=1+1 -5.00", "@x 2.00", "-7 0.00", "a=b 1.00"]);
  });
  it.each(["csv", "tsv", "json", "ndjson", "xlsx"] as const)("leaves nothing behind on a full disk, and says so: %s", async (format) => {
    const ws = open("CREATE TABLE t (id INTEGER PRIMARY KEY); INSERT INTO t VALUES (1);");
    const plan = await planOf(ws, await allOf(ws, "t"), {});
    const path = join(place.folder, `out.${format}`);
    symlinkSync("/dev/full", `${path}.part`);
    await expect(ws.engine.run<"export">({ kind: "export", format, database: ws.database, plan, path }, caller)).rejects.toThrow("The disk is full");
    expect(readdirSync(place.folder).filter((f) => f.startsWith("out"))).toEqual([]);
  });
  it.each(["csv", "json", "ndjson", "xlsx", "pdf"] as const)(
    "that has no room in the midst of many rows lets the database go, and its process works on: %s",
    async (format) => {
      const many = "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 8000)";
      const ws = open(`CREATE TABLE t (id INTEGER PRIMARY KEY, word TEXT); INSERT INTO t ${many} SELECT i, 'word ' || i FROM n;`);
      const spec = await allOf(ws, "t");
      const path = join(place.folder, `out.${format}`);
      symlinkSync("/dev/full", `${path}.part`);
      const query = ws.catalogue.create("query", "Q", spec).id;
      const report = firstReport(query, "Q", await planOf(ws, spec, {}));
      const written =
        format === "pdf"
          ? writeReport(ws, await reportJob(ws, report), { format: "pdf", path }, caller)
          : ws.engine.run<"export">({ kind: "export", format, database: ws.database, plan: await planOf(ws, spec, {}), path }, caller);
      await expect(written).rejects.toThrow("The disk is full");
      const db = new Database(ws.database, { timeout: 200 });
      db.exec("BEGIN EXCLUSIVE; INSERT INTO t VALUES (9001, 'after'); COMMIT");
      db.close();
      for (let process = 0; process < 6; process++) expect((await footingOf(ws, { spec, values: {} }, caller)).rows).toBe(8001);
      expect(readdirSync(place.folder).filter((f) => f.startsWith("out"))).toEqual([]);
    },
  );
});

describe("what killed processes left", () => {
  it("is taken away once it is old, but for what a posting reads and what is young", async () => {
    const ws = open("CREATE TABLE t (id INTEGER PRIMARY KEY);");
    const day = 24 * 3_600_000;
    const put = (path: string, ageMs: number) => {
      mkdirSync(dirname(join(ws.folder, path)), { recursive: true });
      writeFileSync(join(ws.folder, path), "x");
      const at = new Date(Date.now() - ageMs);
      utimesSync(join(ws.folder, path), at, at);
      if (path.startsWith("imports/")) utimesSync(dirname(join(ws.folder, path)), at, at);
    };
    for (const [path, days] of [
      ["tmp/old.csv", 2],
      ["tmp/young.csv", 0.5],
      ["outbox/desk/half.pdf.part", 2],
      ["outbox/desk/whole.pdf", 900],
      ["imports/unused/file", 8],
      ["imports/young/file", 6],
      ["imports/read/file", 90],
    ] as const)
      put(path, days * day);
    const source = { kind: "file", id: "read", name: "r.csv" };
    ws.catalogue.create("posting", "P", { version: 1, source, action: "add", target: "t", same: ["id"], present: "leave", breaking: "refuse", pairs: [] });
    sweepLeftovers(ws);
    const left = ["tmp", "outbox/desk", "imports"].flatMap((folder) => readdirSync(join(ws.folder, folder)));
    expect(left.sort()).toEqual(["read", "whole.pdf", "young", "young.csv"]);
  });
});

describe("the engine", () => {
  const SCRIPT =
    "CREATE TABLE t (id INTEGER PRIMARY KEY); INSERT INTO t VALUES (1); CREATE TABLE many (id INTEGER PRIMARY KEY); WITH n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 5000) INSERT INTO many SELECT i FROM n;";
  const heavy = async (ws: Workspace) => {
    const plan = endless(findTable(await ws.schema(), "many") as Table);
    return { kind: "singles" as const, database: ws.database, statements: [{ of: "rows" as const, plan }] };
  };
  it("stops a running query, times one out, and answers another person meanwhile", async () => {
    const ws = open(SCRIPT);
    const job = await heavy(ws);
    const abort = new AbortController();
    const stopped = ws.engine.run<"singles">(job, { client: "one", signal: abort.signal });
    const timed = ws.engine.run<"singles">(job, { client: "one", timeLimitMs: 700 });
    const queued = ws.engine.run<"singles">(job, { client: "one", timeLimitMs: 500 });
    const outcomes = [stopped, timed, queued].map((p) =>
      p.then(
        () => "answered",
        (e: Error) => e.message,
      ),
    );
    expect((await footingOf(ws, { spec: await allOf(ws, "t"), values: {} }, { client: "two" })).rows).toBe(1);
    abort.abort();
    expect(await outcomes[0]).toBe("Stopped.");
    expect(await outcomes[1]).toContain("longer than the time limit");
    expect(await outcomes[2]).toContain("longer than the time limit");
    expect((await footingOf(ws, { spec: await allOf(ws, "t"), values: {} }, { client: "one" })).rows).toBe(1);
  });
  it("answers a third person while two have as many heavy queries running as they may, and gives nobody more", async () => {
    const ws = open(SCRIPT);
    const stop = new AbortController();
    const job = await heavy(ws);
    let ended = 0;
    const running = ["one", "one", "one", "two", "two"].map((client) =>
      ws.engine.run<"singles">(job, { client, signal: stop.signal }).then(
        () => ended++,
        () => ended++,
      ),
    );
    for (const client of ["three", "four"]) expect((await footingOf(ws, { spec: await allOf(ws, "t"), values: {} }, { client })).rows).toBe(1);
    // The third of the first person waits behind their own two: it is not among those that run.
    expect(ended).toBe(0);
    const { workers } = ws.engine as unknown as { workers: { task: { options: { client: string } } | null }[] };
    const held = (client: string) => workers.filter((w) => w.task?.options.client === client).length;
    expect([held("one"), held("two")]).toEqual([2, 2]);
    stop.abort();
    await Promise.all(running);
  });
  it("says at once that it cannot start, and starts again ever less often", async () => {
    const script = join(place.folder, "broken.mjs");
    const started = join(place.folder, "started");
    writeFileSync(script, `import { appendFileSync } from "node:fs"; appendFileSync(${JSON.stringify(started)}, "x"); process.exit(1);`);
    const engine = new Engine(script);
    const job = { kind: "singles" as const, database: "none", statements: [] };
    await expect(engine.run<"singles">(job, caller)).rejects.toThrow("engine could not start");
    await expect(engine.run<"singles">(job, caller)).rejects.toThrow("engine could not start");
    await new Promise((done) => setTimeout(done, 3_000));
    engine.close();
    // Three at first, three after two seconds, none more yet.
    expect(readFileSync(started, "utf8").length).toBeLessThanOrEqual(9);
  });
  it("reads the business database by a connection that cannot write to it", () => {
    const ws = open("CREATE TABLE t (id INTEGER PRIMARY KEY);");
    expect(() => withReader(ws.database, (db) => db.exec("INSERT INTO t VALUES (1)"))).toThrow(/readonly/);
  });
});

describe("the demo company", () => {
  it("is always the same, and as large as it should be", () => {
    const digestOf = () => {
      const db = new Database(":memory:");
      generateCompany(db);
      const tables = db.prepare("SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite%' ORDER BY name").pluck().all() as string[];
      const hash = createHash("sha256");
      for (const table of tables) for (const row of db.prepare(`SELECT * FROM "${table}"`).raw().iterate()) hash.update(JSON.stringify(row));
      const count = (table: string) => db.prepare(`SELECT COUNT(*) FROM ${table}`).pluck().get() as number;
      const faults = {
        shippersGone: db.prepare("SELECT COUNT(*) FROM consignment WHERE shipper_id NOT IN (SELECT id FROM shipper)").pluck().get() as number,
        noVessel: db.prepare("SELECT COUNT(*) FROM sailing WHERE vessel_id IS NULL").pluck().get() as number,
        voids: db.prepare("SELECT COUNT(*) FROM consignment WHERE status = 'void'").pluck().get() as number,
        doubled: db.prepare('SELECT COUNT(*) - COUNT(DISTINCT "Waybill") FROM agent_manifest').pluck().get() as number,
      };
      return { digest: hash.digest("hex").slice(0, 16), sizes: [count("consignment"), count("sailing")], faults };
    };
    const { digest, sizes, faults } = digestOf();
    expect(digest).toBe("5f6e9ee7f394fa5d");
    expect(sizes[0]).toBeGreaterThan(44_000);
    expect(sizes[1]).toBeGreaterThan(11_500);
    expect(sizes[1]).toBeLessThan(12_500);
    expect(faults.noVessel).toBe(1);
    expect(faults.doubled).toBe(7);
    for (const count of [faults.shippersGone, faults.voids]) expect(count).toBeGreaterThan(50);
  });
});

describe("open data, opened as any file", () => {
  it("gives the grouped figures of the weather of two cities as DuckDB computes them from the CSV (vega-datasets, seattle-weather and weather)", async () => {
    const csv = resolve("node_modules/vega-datasets/data/weather.csv");
    const lines = parse(readFileSync(csv, "utf8"), { columns: true }) as Record<string, string>[];
    const path = join(place.folder, "weather.sqlite");
    const db = new Database(path);
    db.exec(
      "CREATE TABLE city (name TEXT PRIMARY KEY, country TEXT); CREATE TABLE weather (id INTEGER PRIMARY KEY, location TEXT REFERENCES city(name), date TEXT, rain DECIMAL(6,1), warmest DECIMAL(5,1), sky TEXT)",
    );
    db.exec("INSERT INTO city VALUES ('Seattle', 'US'), ('New York', 'US')");
    const insert = db.prepare("INSERT INTO weather (location, date, rain, warmest, sky) VALUES (?, ?, ?, ?, ?)");
    for (const l of lines) insert.run(l.location, l.date?.slice(0, 10).replaceAll("/", "-"), Number(l.precipitation), Number(l.temp_max), l.weather);
    db.close();
    ledger = openLedger(place.folder, path);
    const spec: QuerySpec = {
      ...emptyQuery("weather"),
      joins: [{ id: "c", from: "", link: "weather.location", toward: "b", way: "keep" }],
      conditions: [{ id: "w", left: field("sky"), operator: "isNot", values: [{ kind: "value", text: "sun" }] }],
      grouped: true,
      columns: [
        { id: "city", value: field("name", "c") },
        { id: "month", value: { ...field("date"), part: "month" } },
        { id: "n", value: null, figure: "count" },
        { id: "rain", value: field("rain"), figure: "total" },
        { id: "max", value: field("warmest"), figure: "greatest" },
        { id: "avg", value: field("warmest"), figure: "average" },
      ],
    };
    const mine = await allRows(ledger, spec);
    const duck = await (await DuckDBInstance.create(":memory:")).connect();
    const reader = await duck.runAndReadAll(
      `SELECT location, strftime(date_trunc('month', CAST(replace(date, '/', '-') AS DATE)), '%Y-%m-%d'), COUNT(*)::INTEGER, ROUND(SUM(CAST(precipitation AS DECIMAL(9,1))) * 10)::INTEGER,
        (MAX(CAST(temp_max AS DECIMAL(9,1))) * 10)::INTEGER, ROUND(SUM(CAST(temp_max AS DECIMAL(9,1)))::DOUBLE / COUNT(*) * 100000)::INTEGER
       FROM read_csv($1, all_varchar = true) WHERE weather <> 'sun' GROUP BY ALL`,
      [csv],
    );
    const theirs = reader.getRowsJS() as unknown[][];
    const sorted = (rows: unknown[][]) => rows.map((r) => r.join("|")).sort();
    expect(mine.length).toBeGreaterThan(90);
    // Of an average one digit is only carried.
    const written = (mine as Cell[][]).map((row) => row.map((cell, i) => (i === 5 ? rescale(BigInt(String(cell)), 1, 0) : cell)));
    expect(sorted(written)).toEqual(sorted(theirs));
  });
});
