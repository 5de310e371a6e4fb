import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { ImportSpec } from "@/core/import/spec";
import type { OutcomeRow } from "@/core/posting/outcome";
import { type PostingPlan, resolvePosting } from "@/core/posting/plan";
import type { Pair, PostingSpec } from "@/core/posting/spec";
import { emptyQuery } from "@/core/query/empty";
import { type Column, findTable, type Table } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { type Cell, date, decimal, text, type ValueType, whole, yesno } from "@/core/types/valueType";
import type { Change } from "@/server/jobs/posting/journal";
import { performSteps } from "@/server/jobs/posting/perform";
import { journalOf } from "@/server/services/posting/journalService";
import { editOf, postOf, previewOf, reversalPreviewOf, reverseOf, rowHistoryOf } from "@/server/services/posting/service";
import { planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { inTransaction } from "@/server/source/writing";
import { openLedger, temporaryFolder } from "../support/ledger";
import { OWNER, type Server, startServer } from "../support/postgres";

/* Rows typed over, postings and their way back on a database server: to the last byte of every row, whoever else writes. */

const CALLER = { client: "test" };
let server: Server;
let ws: Workspace;
let place: ReturnType<typeof temporaryFolder>;
let made = 0;
let name: string;

const SCRIPT = `
CREATE TABLE yard (id integer PRIMARY KEY, code varchar(20) NOT NULL UNIQUE);
INSERT INTO yard VALUES (1, 'north'), (2, 'south'), (3, 'east');
CREATE TYPE grade AS ENUM ('plain', 'fine');
CREATE SCHEMA stores;
CREATE TABLE stores."Crate list" (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, mark text NOT NULL UNIQUE, yard_id integer REFERENCES yard(id),
  fee numeric(12, 2) CHECK (fee >= -1000), loose numeric, ratio double precision, day date, at timestamptz, sealed boolean, note varchar(8), raw bytea, kind grade, tags text[], told jsonb, ref uuid,
  twice numeric GENERATED ALWAYS AS (fee * 2) STORED);
INSERT INTO stores."Crate list" (mark, yard_id, fee, loose, ratio, day, at, sealed, note, raw, kind, tags, told, ref) VALUES
  ('a', 1, 12.50, 1.5, 0.1, '2026-01-31', '2026-03-29 01:30:00.25+00', true, 'x', '\\x00ff', 'fine', '{a,"b c"}', '{"k": [1, 2]}', 'a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11'),
  ('b', 2, 9999999999.99, 100, 1e-7, NULL, NULL, false, NULL, NULL, NULL, NULL, NULL, NULL),
  ('c', NULL, NULL, NULL, NULL, '2024-02-29', NULL, NULL, 'é', '\\x', 'plain', '{}', 'null', NULL),
  ('d', 3, -5, 3.25, 3.0, '2026-01-01', '2026-10-25 00:30:00+00', true, '', NULL, NULL, NULL, NULL, NULL);
CREATE TABLE stamp (crate_mark text REFERENCES stores."Crate list"(mark) ON DELETE CASCADE, n integer, PRIMARY KEY (crate_mark, n));
INSERT INTO stamp VALUES ('a', 1), ('a', 2), ('d', 1);
CREATE TABLE incoming (mark text, yard text, fee text, day text, note text);
INSERT INTO incoming VALUES ('a', 'south', '20.00', '31/01/2026', 'longer than eight'), ('e', 'east', '7.5', '01/02/2026', 'new'), ('f', 'nowhere', '1', NULL, NULL),
  ('g', 'north', '-2000', NULL, NULL), ('e', 'east', '8', NULL, NULL), ('h', NULL, 'much', NULL, NULL), ('i', 'north', '3.10', NULL, 'ok');
CREATE TABLE watched (id integer PRIMARY KEY);
CREATE FUNCTION touched() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END';
CREATE TRIGGER touching BEFORE INSERT ON watched FOR EACH ROW EXECUTE FUNCTION touched();
CREATE TABLE keyless (n integer);
`;
const CRATES = "stores.Crate list";

beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => server?.stop());
beforeEach(async () => {
  place = temporaryFolder();
  name = `ledger_${++made}`;
  await server.by("postgres", (client) => client.query(`CREATE DATABASE ${name}`));
  await server.by(name, (client) => client.query(SCRIPT));
  ws = openLedger(place.folder, server.address(name));
  ws.catalogue.setSetting("locale", { locale: "en-GB", zone: "Europe/Paris" });
});
afterEach(() => {
  ws.close();
  place.remove();
});

const sql = (text: string, values: unknown[] = []): Promise<unknown[][]> =>
  server.by(name, async (client) => (await client.query<unknown[]>({ text, values, rowMode: "array" })).rows);

/** Every row of the tables that are written, to the last byte, as the server writes it. */
const everything = async (): Promise<unknown> =>
  JSON.stringify([
    await sql('SELECT c::text, xmin IS NULL FROM stores."Crate list" AS c ORDER BY id'),
    await sql("SELECT s::text FROM stamp AS s ORDER BY s"),
    await sql("SELECT y::text FROM yard AS y ORDER BY y"),
  ]);

const change = (column: string, text: string, was: string | null, id = 1) => editOf(ws, CRATES, { kind: "change", key: [id], column, text, was }, CALLER);
const reversed = (number: number, force = false) => reverseOf(ws, number, force, null, CALLER);

const field = (column: string, from = column, more: Partial<Pair> = {}): Pair => ({ column, value: { kind: "field", name: from }, ...more });
const incoming = (more: Partial<PostingSpec> = {}): PostingSpec => ({
  version: 1,
  source: { kind: "table", table: "incoming" },
  action: "add",
  target: CRATES,
  same: ["mark"],
  present: "change",
  breaking: "refuse",
  pairs: [
    field("mark"),
    field("yard_id", "yard", { found: { link: `${CRATES}.yard_id`, by: "code" } }),
    field("fee"),
    field("day", "day", { dates: "dmy" }),
    field("note"),
  ],
  ...more,
});

describe("rows typed over", () => {
  it("are written as their columns keep them, journaled in a schema of their own, and come back", async () => {
    const before = await everything();
    const edits: [string, string, string | null][] = [
      ["fee", "13.75", "12.5"],
      ["loose", "2.25", "1.50"],
      ["ratio", "0.3", "0.1"],
      ["day", "2026-02-28", "2026-01-31"],
      ["at", "2026-07-01 12:00:00", "2026-03-29 03:30:00.25"],
      ["sealed", "no", "yes"],
      ["note", "new", "x"],
      ["kind", "plain", "fine"],
      ["tags", "{z}", '{a,"b c"}'],
      ["told", "[3]", '{"k": [1, 2]}'],
      ["ref", "b0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11", "a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11"],
      ["yard_id", "3", "1"],
    ];
    const entries = [];
    for (const [column, text, was] of edits) entries.push(await change(column, text, was));
    const [row] = await sql(
      "SELECT fee::text, loose::text, ratio, day::text, at AT TIME ZONE 'UTC' = '2026-07-01 10:00:00', sealed, note, kind, tags::text, told::text, ref, yard_id, twice::text FROM stores.\"Crate list\" WHERE id = 1",
    );
    expect(row).toEqual(["13.75", "2.25", 0.3, "2026-02-28", true, false, "new", "plain", "{z}", "[3]", "b0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11", 3, "27.50"]);
    expect(await sql("SELECT count(*)::int FROM next_ledger.next_ledger_posting")).toEqual([[edits.length]]);
    expect((await rowHistoryOf(ws, CRATES, ["1"], CALLER)).map((h) => h.fields[0]?.column)).toEqual(edits.map(([column]) => column).reverse());
    for (const { number } of entries.reverse()) await reversed(number);
    expect(await everything()).toBe(before);
  });

  it("are added with the numbers the server gives, and removed with all they held", async () => {
    await sql("INSERT INTO stores.\"Crate list\" (mark, at) VALUES ('twice', '2026-10-25 00:30:00+00')");
    const before = await everything();
    const added = await editOf(ws, CRATES, { kind: "add", values: { mark: "n", fee: "1.00" } }, CALLER);
    expect(await sql("SELECT id::int, fee::text FROM stores.\"Crate list\" WHERE mark = 'n'")).toEqual([[6, "1.00"]]);
    await reversed(added.number);
    // The last one has a moment that the clock shows twice that night.
    const removed = await editOf(ws, CRATES, { kind: "remove", keys: [[2], [3], [5]] }, CALLER);
    expect(removed.counts).toEqual({ add: 0, change: 0, remove: 3 });
    await reversed(removed.number);
    expect(await everything()).toBe(before);
  });

  it.each([
    ["what another changed meanwhile", () => change("fee", "1", "99"), "Somebody else changed it to “12.50” meanwhile"],
    ["a number that is none", () => change("fee", "much", "12.5"), "fee: “much” is not a decimal"],
    ["what a check refuses", () => change("fee", "-2000", "12.5"), "a check of the table failed"],
    ["a value another row has", () => change("mark", "b", "c", 3), "another row has the same mark"],
    ["a list's other value", () => change("kind", "rough", "fine"), "invalid input value for enum"],
    ["what is no UUID", () => change("ref", "x", "a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11"), "invalid input syntax for type uuid"],
    ["a row that nothing leads to", () => change("yard_id", "9", "1"), "no such yard"],
    ["a row that others lead to", () => editOf(ws, CRATES, { kind: "remove", keys: [[1]] }, CALLER), "2 stamps lead to it"],
  ])("are refused in words, and nothing is written: %s", async (_, work, words) => {
    const before = await everything();
    await expect(work()).rejects.toThrow(words);
    expect(await everything()).toBe(before);
    expect(await sql("SELECT to_regclass('next_ledger.next_ledger_posting')")).toEqual([[null]]);
  });
});

describe("a posting", () => {
  it("comes to what its preview showed, row by row, and back", async () => {
    const before = await everything();
    const { tally } = await previewOf(ws, incoming(), CALLER);
    expect(await everything()).toBe(before);
    expect(tally.outcomes).toMatchObject({ add: 2, change: 0, refused: 4, repeated: 1 });
    const entry = await postOf(ws, incoming(), { name: "incoming", digest: tally.digest, again: false }, CALLER);
    expect(entry.counts).toEqual({ add: 2, change: 0, remove: 0 });
    expect(await sql("SELECT mark, yard_id, fee::text, day::text FROM stores.\"Crate list\" WHERE mark IN ('e', 'i') ORDER BY mark")).toEqual([
      ["e", 3, "7.50", "2026-02-01"],
      ["i", 1, "3.10", null],
    ]);
    await expect(postOf(ws, incoming(), { name: "incoming", digest: tally.digest, again: false }, CALLER)).rejects.toThrow("changed since the preview");
    const { entries } = await journalOf(ws, CALLER);
    expect(entries.map((e) => [e.number, e.kind, e.table])).toEqual([[1, "posting", CRATES]]);
    await reversed(entry.number);
    expect(await everything()).toBe(before);
  });

  it.each([
    ["a unique text", "mark text UNIQUE"],
    ["a unique text padded with spaces, which is the same with more of them", "mark char(6) UNIQUE"],
    ["a text in a collation of its own, to which case is nothing", "mark text COLLATE anyhow UNIQUE"],
    ["an index that is not unique", "mark text, UNIQUE (mark, id)"],
    ["a unique text, matched with another to which case is nothing", "mark text UNIQUE", "seal"],
  ])("of many rows comes to what its rows come to one by one: %s", async (_, mark, besides?: string) => {
    await sql("CREATE COLLATION anyhow (provider = icu, locale = 'und-u-ks-level2', deterministic = false)");
    await sql(
      `CREATE TABLE bin (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, ${mark}, seal text ${besides ? "COLLATE anyhow" : "UNIQUE"}, yard text REFERENCES yard(code))`,
    );
    await sql("INSERT INTO bin (mark, seal) VALUES ('m3', 's'), ('M150', NULL)");
    const schema = await ws.schema();
    const names = ["mark", "seal", "yard"];
    const source = findTable(schema, "incoming") as Table;
    const columns = names.map((column): Column => ({ ...(source.columns[0] as Column), name: column, label: column }));
    const spec = incoming({ target: "bin", present: "leave", same: ["mark", ...(besides ? [besides] : [])], pairs: names.map((column) => field(column)) });
    const made = resolvePosting(spec, schema, [{ table: { ...source, columns }, origin: null }], usualDay("2026-12-02"));
    if (!made.ok) throw new Error(JSON.stringify(made.problems));
    const plan = made.value[0]?.posting as PostingPlan;
    // Some are refused by the table, some by a link; some marks are the same but for their case or spaces.
    const rows = Array.from({ length: 230 }, (_, i): Cell[] => [
      i % 40 === 39 ? (besides ? `m${i - 1}` : i % 80 === 79 ? `M${i - 1}` : `m${i - 1} `) : `m${i}`,
      besides ? (i % 40 === 38 ? "x" : "X") : i === 170 ? "s" : null,
      i % 80 === 79 ? "nowhere" : i % 2 === 0 ? "north" : null,
    ]);
    const performed = (postings: Cell[][][], journaled: boolean) =>
      inTransaction(ws.database, "rollback", (db) => {
        const outcomes: Omit<OutcomeRow, "n">[] = [];
        const changes: unknown[] = [];
        const sink = ({ kind, after }: Change) => void changes.push([kind, after?.slice(1)]);
        for (const part of postings)
          performSteps(
            db,
            [{ plan, rows: part }],
            () =>
              ({ n: _, ...row }) =>
                void outcomes.push(row),
            journaled ? () => sink : undefined,
          );
        return { outcomes, changes, rows: db.prepare("SELECT mark, seal, yard FROM bin ORDER BY 1, 2, 3").raw().all() };
      });
    const alone = performed(
      rows.map((row) => [row]),
      true,
    );
    expect(alone.outcomes.filter((o) => o.outcome === "add").length).toBeGreaterThan(200);
    expect(performed([rows], true)).toEqual(alone);
    expect(performed([rows], false)).toEqual({ ...alone, changes: [] });
  });

  it("of many rows is journaled row by row, and taken back whole", async () => {
    await sql("INSERT INTO incoming SELECT 'many ' || i, 'north', i::text, NULL, NULL FROM generate_series(1, 620) AS i");
    const before = await everything();
    const { tally } = await previewOf(ws, incoming(), CALLER);
    const entry = await postOf(ws, incoming(), { name: "many", digest: tally.digest, again: false }, CALLER);
    expect(entry.counts).toEqual({ add: 622, change: 0, remove: 0 });
    const journaled = `SELECT count(*)::int FROM next_ledger.next_ledger_change c JOIN stores."Crate list" l ON c.row = '[' || l.id || ']' AND (c.after::json ->> 1) = l.mark`;
    expect(await sql(journaled)).toEqual([[622]]);
    await reversed(entry.number);
    expect(await everything()).toBe(before);
  });

  it("is refused where somebody else changed its rows since the preview", async () => {
    const { tally } = await previewOf(ws, incoming(), CALLER);
    await sql("INSERT INTO stores.\"Crate list\" (mark) VALUES ('e')");
    const before = await everything();
    await expect(postOf(ws, incoming(), { name: "incoming", digest: tally.digest, again: false }, CALLER)).rejects.toThrow("changed since the preview");
    expect(await everything()).toBe(before);
  });

  it("leaves no row that others lead to, though it may: the server would remove those besides", async () => {
    const remove = incoming({ action: "remove", breaking: "allow", pairs: [field("mark")] });
    const { tally } = await previewOf(ws, remove, CALLER);
    expect(tally.outcomes).toMatchObject({ remove: 0, refused: 1, unmatched: 5 });
    expect(await sql("SELECT count(*)::int FROM stamp")).toEqual([[3]]);
  });

  it("leaves a row that was changed since, and says so", async () => {
    const { tally } = await previewOf(ws, incoming(), CALLER);
    const entry = await postOf(ws, incoming(), { name: "incoming", digest: tally.digest, again: false }, CALLER);
    await sql("UPDATE stores.\"Crate list\" SET fee = 1 WHERE mark = 'e'");
    const { reversal } = await reversalPreviewOf(ws, entry.number, false, CALLER);
    expect([reversal.back, reversal.left]).toEqual([1, 1]);
    await reversed(entry.number);
    expect(await sql('SELECT mark FROM stores."Crate list" ORDER BY mark')).toEqual([["a"], ["b"], ["c"], ["d"], ["e"]]);
  });

  it("waits for another of the ledger's own; both are whole, one after the other", async () => {
    const spec = (n: number): PostingSpec =>
      incoming({ pairs: [field("mark"), { column: "note", value: { kind: "formula", text: `'w${n}'` } }], present: "change" });
    const posted = async (n: number) => {
      for (;;) {
        const { tally } = await previewOf(ws, spec(n), { client: `writer ${n}` });
        const done = await postOf(ws, spec(n), { name: `w${n}`, digest: tally.digest, again: true }, { client: `writer ${n}` }).catch((e: Error) => e.message);
        if (typeof done !== "string") return done.number;
        expect(done).toMatch(/changed since the preview|still running/);
      }
    };
    const numbers = await Promise.all([1, 2, 3].map(posted));
    expect(numbers.sort()).toEqual([1, 2, 3]);
    const [[notes]] = (await sql("SELECT count(DISTINCT note)::int FROM stores.\"Crate list\" WHERE note LIKE 'w%'")) as [[number]];
    expect(notes).toBe(1);
  });
});

describe("a file", () => {
  const column = (name: string, type: ValueType): ImportSpec["columns"][number] => ({ name, type, dates: "dmy", left: false });
  const columns = [column("code", text), column("amount", decimal(2)), column("day", date), column("ok", yesno), column("count", whole), column("note", text)];
  const imported = (lines: string, into: Partial<Extract<ImportSpec["into"], { kind: "table" }>> = {}, misfits: ImportSpec["misfits"] = "keep") => {
    const path = join(place.folder, "file.csv");
    writeFileSync(path, lines);
    const format = { kind: "delimited" as const, delimiter: ",", quote: '"', encoding: "utf-8" as const, heading: 0, comma: false };
    const spec = { version: 1, format, columns, misfits, into: { kind: "table", name: "Brought in", key: null, ...into } } as never as ImportSpec;
    const entry = { at: "2026-11-23T08:00:00Z", by: "a test", kind: "table" as const, name: "file", brief: "", table: "Brought in" };
    return ws.engine.run<"importFile">({ kind: "importFile", path, spec, into: { kind: "table", database: ws.database, entry } }, CALLER);
  };
  const there = () => sql('SELECT code, amount::text, day::text, ok, count::text, note FROM "Brought in" ORDER BY 1, 2');
  const LINES = `a,1.5,01/02/2026,yes,9007199254740993,"tab\there \\N back\\slash"\nb,,,no,,"two\nlines"\na,-2.25,,,,\\.\n`;

  it("makes a table of types, to the letter; it is let go and comes back", async () => {
    const { rows, entry } = await imported(LINES);
    expect(rows).toBe(3);
    const all = [
      ["a", "-2.25", null, null, null, "\\."],
      ["a", "1.50", "2026-02-01", true, "9007199254740993", "tab\there \\N back\\slash"],
      ["b", null, null, false, null, "two\nlines"],
    ];
    expect(await there()).toEqual(all);
    const back = await reversed(entry?.number ?? 0);
    await expect(there()).rejects.toThrow("does not exist");
    expect((await ws.schema()).tables.some((t) => t.name.startsWith("next_ledger"))).toBe(false);
    await reversed(back.number);
    expect(await there()).toEqual(all);
  });

  it("has a key: the first or the last row of each value, or none where values are doubled", async () => {
    await expect(imported(LINES, { key: "code" })).rejects.toThrow("“code” cannot be the key: 1 row has a value that a row before it has (“a” in row 3)");
    await expect(there()).rejects.toThrow("does not exist");
    expect((await imported(LINES, { key: "code", doubled: "first" })).rows).toBe(2);
    expect((await there()).map((r) => r[1])).toEqual(["1.50", null]);
    await expect(imported(LINES)).rejects.toThrow("already used");
    await sql('DROP TABLE "Brought in"');
    expect((await imported(LINES, { key: "code", doubled: "last" })).rows).toBe(2);
    expect((await there()).map((r) => r[1])).toEqual(["-2.25", null]);
    expect((await ws.schema()).tables.find((t) => t.name === "Brought in")?.columns.map((c) => [c.name, c.type.kind])).toEqual(
      columns.map((c) => [c.name, c.type.kind]),
    );
  });

  it("with values that fit no column is refused where they are to be kept, else they are left empty", async () => {
    await expect(imported("a,much,,,,\n")).rejects.toThrow("row 1: “much” in amount is not a decimal");
    await expect(there()).rejects.toThrow("does not exist");
    expect((await imported("a,much,31/02/2026,,,\n", {}, "empty")).misfits).toBe(2);
    expect(await there()).toEqual([["a", null, null, null, null, null]]);
  });
});

describe("a query's rows", () => {
  it("become a table of their types, and go again", async () => {
    const columns = ["mark", "fee", "day", "at", "sealed", "ratio"].map((c) => ({ id: c, value: { kind: "field" as const, join: "", column: c } }));
    const plan = await planOf(ws, { ...emptyQuery(CRATES), columns }, {});
    const entry = { at: "2026-11-23T08:00:00Z", by: "a test", kind: "table" as const, name: "kept", brief: "", table: "kept rows" };
    const made = () => ws.engine.run<"tableFromQuery">({ kind: "tableFromQuery", database: ws.database, plan, name: "kept rows", entry }, CALLER);
    const { number } = await made();
    expect(await sql('SELECT k::text FROM "kept rows" AS k ORDER BY 1')).toEqual([
      ['(a,12.50,2026-01-31,"2026-03-29 03:30:00.25",t,0.1)'],
      ["(b,9999999999.99,,,f,1e-07)"],
      ["(c,,2024-02-29,,,)"],
      ['(d,-5.00,2026-01-01,"2026-10-25 02:30:00",t,3)'],
    ]);
    await expect(made()).rejects.toThrow("already used");
    await reversed(number);
    await expect(sql('SELECT 1 FROM "kept rows"')).rejects.toThrow("does not exist");
  });
});

describe("a role", () => {
  it("that may not write reads all the same, and is told", async () => {
    await sql(`CREATE ROLE looker LOGIN; GRANT USAGE ON SCHEMA public, stores TO looker; GRANT SELECT ON ALL TABLES IN SCHEMA public, stores TO looker;
      REVOKE SELECT ON incoming FROM looker; GRANT SELECT (mark) ON incoming TO looker`);
    const other = temporaryFolder();
    const looker = openLedger(other.folder, server.address(name, "looker"));
    const { tables } = await looker.schema();
    expect(tables.map((t) => [t.name, t.denied ?? false])).toEqual(["incoming", "keyless", "stamp", "watched", "yard", CRATES].map((t) => [t, true]));
    expect(tables.find((t) => t.name === "incoming")?.columns.map((c) => c.name)).toEqual(["mark"]);
    await expect(editOf(looker, "yard", { kind: "change", key: [1], column: "code", text: "x", was: "north" }, CALLER)).rejects.toThrow(
      "does not allow Next Ledger to change “yard”",
    );
    looker.close();
    other.remove();
    await sql("DROP OWNED BY looker; DROP ROLE looker");
  });

  it("that may change rows, but make no schema for the journal, only reads; with the schema made for it, it writes", async () => {
    await sql(`CREATE ROLE clerk LOGIN; GRANT USAGE ON SCHEMA public TO clerk; GRANT ALL ON yard TO clerk; REVOKE CREATE ON DATABASE ${name} FROM PUBLIC`);
    const other = temporaryFolder();
    const clerk = openLedger(other.folder, server.address(name, "clerk"));
    const denied = async () => (await clerk.schema()).tables.find((t) => t.name === "yard")?.denied ?? false;
    expect(await denied()).toBe(true);
    await sql("CREATE SCHEMA next_ledger AUTHORIZATION clerk");
    expect(await denied()).toBe(false);
    await editOf(clerk, "yard", { kind: "change", key: [3], column: "code", text: "west", was: "east" }, CALLER);
    expect(await sql("SELECT code FROM yard WHERE id = 3")).toEqual([["west"]]);
    clerk.close();
    other.remove();
    await sql("DROP OWNED BY clerk; DROP ROLE clerk");
  });

  it(`that owns them writes, but for what has no key, or a trigger (${OWNER})`, async () => {
    const { tables } = await ws.schema();
    expect(tables.filter((t) => t.denied).map((t) => t.name)).toEqual(["incoming", "keyless"]);
    expect(tables.find((t) => t.name === "watched")?.trigger).toBe("touching");
    const crates = tables.find((t) => t.name === CRATES);
    expect(crates?.label).toBe("crate list");
    expect(crates?.columns.map((c) => [c.name, c.type.kind, c.storage, c.filled ?? c.generated ?? null, c.allowed ?? null, c.most ?? null])).toEqual([
      ["id", "whole", "plain", "number", null, null],
      ["mark", "text", "plain", null, null, null],
      ["yard_id", "whole", "small", null, null, null],
      ["fee", "decimal", "numeric", null, null, null],
      ["loose", "decimal", "numeric", null, null, null],
      ["ratio", "floating", "plain", null, null, null],
      ["day", "date", "plain", null, null, null],
      ["at", "timestamp", "zoned", null, null, null],
      ["sealed", "yesno", "plain", null, null, null],
      ["note", "text", "plain", null, null, 8],
      ["raw", "text", "size", null, null, null],
      ["kind", "text", "cast", null, ["plain", "fine"], null],
      ["tags", "text", "cast", null, null, null],
      ["told", "text", "cast", null, null, null],
      ["ref", "text", "cast", null, null, null],
      ["twice", "decimal", "numeric", true, null, null],
    ]);
  });
});
