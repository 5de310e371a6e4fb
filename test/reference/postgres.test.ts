import { execFileSync } from "node:child_process";
import { cpSync, mkdtempSync, readFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { plainTiles } from "@/core/dashboard/tiles";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { proofColumn } from "@/core/proof/followed";
import { postgres, postgresOf } from "@/core/query/dialect/postgres";
import { emptyQuery } from "@/core/query/empty";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { compileStatement, type Statement } from "@/core/query/statement";
import { reportSpecSchema } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import type { Cell, ValueType } from "@/core/types/valueType";
import { Engine } from "@/server/engine/engine";
import type { AnswerPath } from "@/server/http/answers";
import { proveQuery } from "@/server/jobs/queries/prove";
import { duplicatesOf } from "@/server/services/duplicates/service";
import { planOf } from "@/server/services/queries/service";
import { reportJob, writeReport } from "@/server/services/reports/service";
import { Workspace } from "@/server/services/workspace/workspace";
import { plainAddress } from "@/server/source/postgres/address";
import { Session } from "@/server/source/postgres/session";
import { registerFunctions } from "@/server/source/sqlite/functions";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { readStatement } from "@/server/source/sqlite/readers";
import { derivedSchema, specArbitrary } from "../support/arbitrary";
import { isTooLarge, planned, RUNS, SEED } from "../support/everywhere";
import { temporaryFolder } from "../support/ledger";
import { nestedArbitrary } from "../support/nested";
import { copyDatabase, type Server, startServer } from "../support/postgres";
import { fillSample, sampleSchema } from "../support/sample";
import { type Spread, startSpread } from "../support/spread";
import { agree } from "../support/twoWays";

/*
 * The demo company on a database server (Debian's PostgreSQL, started here): every saved object gives what it gives on SQLite.
 * That is an engine of its own, with another planner and its own arithmetic; the recount runs on both.
 */

const CALLER = { client: "test" };
/** Each takes a server and its recount some hundredths of a second. */
const PLANS = Math.ceil(RUNS / 8);
const NOW = () => new Date("2026-11-23T10:00:00Z");
const place = temporaryFolder();
let server: Server;
let here: Workspace;
let there: Workspace;

beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => {
  server?.stop();
  place.remove();
});

/** The demo company in a file, and the same on a server, each with its saved objects. @param moved takes it there. @returns its address */
async function openBoth(moved: (db: Database.Database, schema: Schema) => Promise<string>): Promise<void> {
  const file = mkdtempSync(join(place.folder, "file-"));
  execFileSync(process.execPath, ["dist/make-demo.mjs", file, "--bare"]);
  const db = new Database(join(file, "business.sqlite"), { readonly: true });
  const address = await moved(db, inspectDatabase(db, []));
  db.close();
  const other = `${file}-server`;
  cpSync(file, other, { recursive: true });
  here = new Workspace(file, join(file, "business.sqlite"), process.cwd(), NOW);
  there = new Workspace(other, address, process.cwd(), NOW, new Engine(join(process.cwd(), "dist/engine.mjs")));
}

async function toServer(db: Database.Database, schema: Schema): Promise<string> {
  await server.by("postgres", (client) => client.query("CREATE DATABASE ferries"));
  await server.by("ferries", (client) => copyDatabase(client, db, schema));
  return server.address("ferries");
}

let spread: Spread | undefined;
async function toSeveral(db: Database.Database, schema: Schema): Promise<string> {
  spread = await startSpread(db, schema);
  return spread.address;
}

const agrees = (name: string, path: AnswerPath, body: unknown) => agree(here, there, name, path, body);

const saved = (kind: "query" | "pivot" | "chart" | "report" | "letter" | "dashboard") => here.catalogue.list(kind);

const shapeOf = ({ tables, links }: Schema) => ({
  tables: tables
    .map((t) => ({ name: t.name, key: t.key, rows: t.rows, columns: t.columns.map((c) => [c.name, c.type, c.nullable, c.unit]) }))
    .sort((a, b) => a.name.localeCompare(b.name)),
  links: links.map((l) => l).sort((a, b) => a.id.localeCompare(b.id)),
});

describe.each([
  ["on a server", toServer],
  ["spread over three servers", toSeveral],
])("the demo company %s", (_, moved) => {
  beforeAll(() => openBoth(moved), 180_000);
  afterAll(() => {
    here?.close();
    there?.close();
    spread?.stop();
    spread = undefined;
  });

  it("has the same tables, types, keys and links", async () => {
    expect(shapeOf(await there.schema())).toEqual(shapeOf(await here.schema()));
  });

  it("answers every saved query alike, and proves it", async () => {
    for (const { name, spec } of saved("query")) {
      const question = { spec, values: {} };
      await agrees(name, "/api/query/rows", { ...question, offset: 0, rows: 1000 });
      await agrees(name, "/api/query/footing", question);
      await agrees(name, "/api/query/proof", question);
    }
  }, 120_000);

  it("works out every saved pivot and chart alike, and recounts the pivots", async () => {
    for (const { name, spec } of saved("pivot")) {
      await agrees(name, "/api/pivots", { spec, values: {} });
      await agrees(name, "/api/pivots/recount", { spec, values: {} });
    }
    for (const { name, spec } of saved("chart")) await agrees(name, "/api/charts", { spec, values: {} });
  }, 120_000);

  it("lays out every saved report and letter alike, page by page", async () => {
    for (const { name, spec } of saved("report")) await agrees(name, "/api/report/pages", { spec, from: 1, to: 10_000 });
    for (const { name, spec } of saved("letter")) await agrees(name, "/api/letters/page", { spec, values: {}, at: 0 });
    for (const { name, spec } of saved("letter")) await agrees(name, "/api/letters/proof", { spec, values: {} });
  }, 120_000);

  it("writes the same files, tells the same links and rows that are alike", async () => {
    const [query] = saved("query");
    const [report] = saved("report");
    const file = async (ws: Workspace, made: (path: string) => Promise<unknown>) => {
      const path = join(ws.folder, "tmp", "file");
      await made(path);
      return readFileSync(path, "utf8");
    };
    const consignments = {
      ...emptyQuery("consignment"),
      columns: [
        { id: "w", value: { kind: "field" as const, join: "", column: "waybill_no" } },
        { id: "f", value: { kind: "field" as const, join: "", column: "freight_charge" } },
      ],
    };
    const rows = (ws: Workspace) =>
      file(ws, async (path) =>
        ws.engine.run<"export">({ kind: "export", format: "csv", database: ws.database, plan: await planOf(ws, consignments, {}), path }, CALLER),
      );
    expect(await rows(there)).toBe(await rows(here));
    expect((await rows(there)).split("\r\n").length).toBe(44_962);
    const { spec } = report as { spec: unknown };
    const totals = (ws: Workspace) =>
      file(ws, async (path) => writeReport(ws, await reportJob(ws, reportSpecSchema.parse(spec)), { format: "totals", path }, CALLER));
    expect(query && (await totals(there))).toBe(await totals(here));
    const suggested = async (ws: Workspace) =>
      (await ws.engine.run<"suggestLinks">({ kind: "suggestLinks", database: ws.database, schema: await ws.schema(), table: null }, CALLER)).map(
        ({ score, ...s }) => ({ ...s, score: Math.round(score * 1e6) }),
      );
    expect(await suggested(there)).toEqual(await suggested(here));
    const evidence = (ws: Workspace) =>
      ws.engine.run<"linkEvidence">(
        {
          kind: "linkEvidence",
          database: ws.database,
          spec: {
            version: 1,
            a: { table: "consignment", columns: ["shipper_id"], name: "a" },
            b: { table: "shipper", columns: ["id"], name: "b" },
            operators: ["is"],
          },
        },
        CALLER,
      );
    expect(await evidence(there)).toEqual(await evidence(here));
    const alike = (ws: Workspace) => duplicatesOf(ws, "shipper", ["name"], true, CALLER);
    const [others, own] = [await alike(there), await alike(here)];
    expect([others.groups, others.all]).toEqual([own.groups, own.all]);
  }, 120_000);

  it("fills every tile of every dashboard alike", async () => {
    for (const { name, spec } of saved("dashboard")) {
      for (const { id } of plainTiles(dashboardSpecSchema.parse(spec))) await agrees(`${name} ${id}`, "/api/dashboards/tile", { spec, tile: id, values: {} });
    }
  }, 120_000);
});

describe("numbers of a server", () => {
  it("are worked with in 64 bits, however few they are stored in; what outgrows those is refused", async () => {
    await server.by("postgres", (client) => client.query("CREATE DATABASE numbers"));
    await server.by("numbers", (client) =>
      client.query(
        "CREATE TABLE n (id integer PRIMARY KEY, small smallint, amount numeric(20, 2)); INSERT INTO n VALUES (2000000000, 30000, 12.34), (2000000001, 30001, 1)",
      ),
    );
    const session = new Session(server.address("numbers"));
    const schema = await session.inspect([], []);
    const worked = (text: string) =>
      session.reading((r) =>
        [...r.ask({ of: "rows", plan: planned({ ...emptyQuery("n"), columns: [{ id: "w", value: { kind: "formula", text } }] }, schema) })].flat(),
      );
    expect(await worked("id * 4")).toEqual([8_000_000_000, 8_000_000_004]);
    expect(await worked("small * small")).toEqual([900_000_000, 900_060_001]);
    expect(await worked("amount * 3")).toEqual([3702, 300]);
    await expect(worked("id * id * 4")).rejects.toThrow(/out of range|18 digits/);
    await server.by("numbers", (client) => client.query("UPDATE n SET amount = 999999999999999999 WHERE small = 30001"));
    await expect(worked("amount")).rejects.toThrow(/out of range|18 digits/);
    session.close();
  });
});

describe("a proof over a server", () => {
  it("says no where a row is lost on the way, or a figure is another", async () => {
    await server.by("postgres", (client) => client.query("CREATE DATABASE proofs"));
    await server.by("proofs", (client) =>
      client.query("CREATE TABLE n (id integer PRIMARY KEY, amount numeric(12, 2)); INSERT INTO n SELECT i, i FROM generate_series(1, 2500) AS i"),
    );
    const session = new Session(server.address("proofs"));
    const amount = { kind: "field" as const, join: "", column: "amount" };
    const plan = planned({ ...emptyQuery("n"), grouped: true, columns: [{ id: "t", value: amount, figure: "total" }] }, await session.inspect([], []));
    await session.reading((own) => {
      const proves = (reading: typeof own) => proveQuery(reading, plan, "t").agrees;
      expect(proves(own)).toBe(true);
      const tables: typeof own.tables = (table, columns) => [...own.tables(table, columns)].slice(1);
      expect(proves({ ...own, tables })).toBe(false);
      const ask: typeof own.ask = (statement) => [...own.ask(statement)].map((row) => row.map((cell) => (typeof cell === "number" ? cell + 1 : cell)));
      expect(proves({ ...own, ask })).toBe(false);
    });
    session.close();
  });
});

describe("a large table on a server", () => {
  it("is shown from its index, sorted up and down, and a row is found by its key", async () => {
    await server.by("postgres", (client) => client.query("CREATE DATABASE large"));
    await server.by("large", (client) =>
      client.query(
        "CREATE TABLE sale (id integer PRIMARY KEY, day date NOT NULL, note text); INSERT INTO sale SELECT n, DATE '2024-01-01' + n % 900, 'n' FROM generate_series(1, 100000) AS n; CREATE INDEX ON sale (day, id); ANALYZE",
      ),
    );
    const session = new Session(server.address("large"));
    const schema = await session.inspect([], []);
    const field = (column: string) => ({ kind: "field" as const, join: "", column });
    const spec: QuerySpec = { ...emptyQuery("sale"), columns: ["id", "day", "note"].map((c) => ({ id: c, value: field(c) })) };
    const steps = async (more: Partial<QuerySpec>, window?: { offset: number; rows: number }): Promise<string> => {
      const { text, values } = compileStatement(
        { of: "rows", plan: planned({ ...spec, ...more }, schema), window },
        postgresOf({ text: "und-x-icu", words: "C.utf8" }),
      );
      const { rows } = await server.by("large", (client) => client.query({ text: `EXPLAIN ${text}`, values: values.map((v) => v.value), rowMode: "array" }));
      return rows.flat().join("\n");
    };
    const first = { offset: 0, rows: 200 };
    expect(await steps({}, first)).toMatch(/Index (Only )?Scan using sale_pkey/);
    expect(await steps({ order: [{ column: "day", direction: "up" }] }, first)).toContain("using sale_day_id_idx");
    expect(await steps({ order: [{ column: "id", direction: "down" }] }, first)).toContain("Backward using sale_pkey");
    const one = { id: "one", left: field("id"), operator: "is" as const, values: [{ kind: "value" as const, text: "77" }] };
    expect(await steps({ conditions: [one] })).toContain("Index Cond: (id = '77'::bigint)");
  });
});

describe("a database spread over three servers", () => {
  let folder: ReturnType<typeof temporaryFolder>;
  let three: Spread;
  let ws: Workspace;
  beforeAll(async () => {
    folder = temporaryFolder();
    execFileSync(process.execPath, ["dist/make-demo.mjs", folder.folder, "--bare"]);
    const db = new Database(join(folder.folder, "business.sqlite"), { readonly: true });
    three = await startSpread(db, inspectDatabase(db, []));
    db.close();
    ws = new Workspace(folder.folder, three.address, process.cwd(), NOW);
  }, 180_000);
  afterAll(() => {
    ws?.close();
    three?.stop();
    folder?.remove();
  });

  type Node = { "Node Type": string; Filter?: string; "Remote SQL"?: string; "Relation Name"?: string; Plans?: Node[] };
  const nodes = (node: Node): Node[] => [node, ...(node.Plans ?? []).flatMap(nodes)];

  /** What the planning server asks of the halves for a statement, and what it does with their rows itself. */
  async function asked(statement: Statement): Promise<Node[]> {
    const { text, values } = compileStatement(statement, postgresOf({ text: "und-x-icu", words: "C.utf8" }));
    const bound = values.map(({ value, type }) => (type.kind === "yesno" && value !== null ? value === "1" : value));
    return three.planner.by("ferries", async (client) => {
      const { rows } = await client.query<{ "QUERY PLAN": { Plan: Node }[] }>({ text: `EXPLAIN (FORMAT JSON, VERBOSE) ${text}`, values: bound });
      return rows.flatMap((row) => row["QUERY PLAN"].flatMap(({ Plan: top }) => nodes(top))).filter((n) => n["Node Type"] === "Foreign Scan");
    });
  }

  it("has the halves find the rows that a saved query or pivot asks for, and send the columns it reads", async () => {
    const schema = await ws.schema();
    const told: Record<string, string[]> = {};
    for (const { name, kind, spec } of [...ws.catalogue.list("query"), ...ws.catalogue.list("pivot")]) {
      const query = kind === "query" ? (spec as QuerySpec) : pivotSpecSchema.parse(spec).query;
      const resolved =
        typeof query === "object" && query && "source" in query ? resolveQuery(query as QuerySpec, schema, { today: ws.today, values: {}, person: "x" }) : null;
      if (!resolved?.ok) continue;
      const scans = await asked({ of: "rows", plan: resolved.value });
      const kept = scans.flatMap((n) => (n.Filter ? [n.Filter] : []));
      if (kept.length > 0) told[name] = [...new Set(kept)];
      // No half sends all columns of its rows.
      for (const { "Remote SQL": sent = "" } of scans)
        expect(sent, name).not.toMatch(
          /SELECT id, waybill_no, lodged_on, shipper_id, commodity_id, sailing_id, collect_from, weight, freight_charge, insurance, status/,
        );
    }
    expect(told).toEqual({});
  }, 60_000);

  it("keeps no answer, as rows elsewhere change unseen", async () => {
    const version = (address: string) => new Session(address).reading((reading) => reading.version());
    expect(await version(three.address)).toBeNull();
    expect(await version(server.address("postgres"))).toMatch(/^\d+:\d+:/);
    expect(await ws.state()).not.toBe(await ws.state());
  });

  it("does not use a declared key that tells no rows apart, and says why", async () => {
    await three.planner.by("ferries", (client) =>
      client.query("UPDATE next_ledger.declared_key SET columns = '{sailing_id}' WHERE table_name = 'fare_sale'; CREATE TABLE told (n integer)"),
    );
    const { tables, broken } = await ws.schema();
    expect(tables.some((t) => t.name === "fare_sale")).toBe(false);
    expect(broken?.find((b) => b.table === "fare_sale")?.why).toContain("its declared key does not tell its rows apart");
  });
});

/** Rows may have no key here: the tables are made without. */
const bare: Schema = { links: [], tables: sampleSchema.tables.map((t) => ({ ...t, key: [], columns: t.columns.map((c) => ({ ...c, nullable: true })) })) };

/** Types that columns of the sample are declared of, beside the usual ones: what is read as a type may lie in many. */
const DECLARED: Record<string, string>[] = [
  {},
  {
    "crate.id": "bigint",
    "crate.mark": "varchar(200)",
    "crate.pieces": "numeric(18)",
    "crate.price": "numeric(30, 2)",
    "yard.id": "smallint",
    "crate.at": "timestamptz",
  },
];

describe.each([
  ["by code point", "", DECLARED[0]],
  ["by the rules of a language", "LOCALE_PROVIDER icu ICU_LOCALE 'en-US' TEMPLATE template0", DECLARED[1]],
])("queries made at random, on a database that orders its texts %s", (_, how, types) => {
  const name = how === "" ? "sample_plain" : "sample_ordered";
  let session: Session;
  const lite = new Database(join(place.folder, `${name}.sqlite`));
  let onServer: (schema: Schema) => Schema;
  beforeAll(async () => {
    registerFunctions(lite);
    fillSample(lite, SEED);
    await server.by("postgres", (client) => client.query(`CREATE DATABASE ${name} ${how}`));
    await server.by(name, (client) => copyDatabase(client, lite, bare, types));
    session = new Session(plainAddress(server.address(name), "UTC"));
    const read = await session.inspect([], []);
    const stored = (table: string, column: string) => read.tables.find((t) => t.name === table)?.columns.find((c) => c.name === column)?.storage;
    onServer = (schema) => ({
      ...schema,
      tables: schema.tables.map((t) => ({ ...t, columns: t.columns.map((c) => ({ ...c, storage: stored(t.name, c.name) ?? c.storage })) })),
    });
  }, 60_000);
  afterAll(() => lite.close());

  async function holds(spec: QuerySpec, schema: Schema): Promise<void> {
    const plan = planned(spec, schema);
    const asked = (plan: Plan): Statement[] => [
      { of: "sheet", plan },
      { of: "sheet", plan, window: { offset: 3, rows: 5 } },
      { of: "footing", plan },
    ];
    fc.pre(!isTooLarge(() => asked(plan).map((s) => [...readStatement(lite, s)])));
    const own = asked(plan).map((s) => [...readStatement(lite, s)]);
    const there = planned(spec, onServer(schema));
    await session.reading((reading) => {
      const others = asked(there).map((s) => [...reading.ask(s)]);
      expect(close(others, own, asked(there)), compileStatement({ of: "sheet", plan: there }, postgres).text).toEqual(own);
      const proof = proveQuery(reading, there, proofColumn(there)?.id ?? null);
      expect(proof.agrees, JSON.stringify(proof)).toBe(true);
    });
  }

  it(`come to the same by the server, and are proved: ${PLANS} of them`, async () => {
    await fc.assert(
      fc.asyncProperty(specArbitrary, (spec) => holds(spec, derivedSchema)),
      { numRuns: PLANS, seed: SEED },
    );
  }, 600_000);
  it("so do those of three levels", async () => {
    await fc.assert(
      fc.asyncProperty(nestedArbitrary, ({ spec, schema }) => holds(spec, schema)),
      { numRuns: Math.ceil(PLANS / 4), seed: SEED },
    );
  }, 600_000);
});

/** Answers in which floating figures that are another's but for the order in which they were added are written as those. */
function close(answers: Cell[][][], own: Cell[][][], statements: Statement[]): Cell[][][] {
  return answers.map((rows, n) => {
    const sql = compileStatement(statements[n] as Statement, postgres);
    const types = "columns" in sql ? sql.columns.map((c) => c.type) : (sql.types ?? []);
    const written = (cell: Cell, other: Cell, type: ValueType | undefined): Cell => {
      if (type?.kind !== "floating" || typeof cell !== "number" || typeof other !== "number") return cell;
      return Math.abs(cell - other) <= 1e-8 * Math.max(Math.abs(cell), Math.abs(other), 1e-3) ? other : cell;
    };
    return rows.map((row, r) => row.map((cell, c) => written(cell, own[n]?.[r]?.[c] ?? null, types[c])));
  });
}
