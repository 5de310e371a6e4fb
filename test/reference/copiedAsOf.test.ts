import { execFileSync } from "node:child_process";
import { cpSync, mkdtempSync } from "node:fs";
import { join } from "node:path";
import { type DuckDBConnection, DuckDBInstance } from "@duckdb/node-api";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import type { Proof } from "@/core/proof/proof";
import { answeredLater } from "@/core/query/asking";
import { emptyQuery } from "@/core/query/empty";
import { tablesToCopyAsOf } from "@/core/query/onCopy";
import type { QuerySpec } from "@/core/query/spec";
import type { Cell } from "@/core/types/valueType";
import { provingQuery } from "@/server/jobs/queries/prove";
import type { FootingAnswer, SheetRows } from "@/server/services/queries/service";
import { planOf } from "@/server/services/queries/service";
import { chooseCopiedAsOf, copyAgainAsOf } from "@/server/services/workspace/copy";
import { withCopy } from "@/server/services/workspace/here";
import { Workspace } from "@/server/services/workspace/workspace";
import { type CopyOne, ofOneMoment } from "@/server/source/columnar/copyServer";
import { NoRoom, NotCopied } from "@/server/source/columnar/copyTable";
import { ColumnarStore } from "@/server/source/columnar/store";
import { readingBeside } from "@/server/source/read";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { temporaryFolder } from "../support/ledger";
import { copyDatabase, type Server, startServer } from "../support/postgres";
import { agree, agreeOnFigures, answerOf } from "../support/twoWays";

/* Groups of a server's large tables, read from a copy as of an earlier moment. */

const LARGE = 60;
vi.hoisted(() => {
  process.env.NEXT_LEDGER_LARGE = "60";
});

const BEGAN = Date.now();
const NOW = () => new Date(Date.parse("2026-11-23T10:00:00Z") + Date.now() - BEGAN);
const place = temporaryFolder();
let server: Server;
beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => {
  server?.stop();
  place.remove();
});

const until = async (holds: () => boolean): Promise<void> => {
  while (!holds()) await new Promise((done) => setTimeout(done, 50));
};

/** A ledger over a database of the server, with what copies its tables. @param folder of a ledger that was, or of none */
function ledgerOver(name: string, folder = mkdtempSync(join(place.folder, "ledger-")), user?: string): Workspace {
  const { engine, copy } = withCopy(process.cwd(), folder, () => ws.database);
  const ws: Workspace = new Workspace(folder, server.address(name, user), process.cwd(), NOW, engine, copy);
  return ws;
}

const isCopied = ({ copy }: Workspace, ...tables: string[]): boolean =>
  copy?.kept.state?.coming === null && tables.every((name) => copy.kept.state?.tables.some((t) => t.name === name));

describe("the demo company on a server, its groups as of an earlier moment", () => {
  let here: Workspace;
  let there: Workspace;
  beforeAll(async () => {
    const [file, other] = [join(place.folder, "demo"), join(place.folder, "demo-server")];
    execFileSync(process.execPath, ["dist/make-demo.mjs", file, "--bare"]);
    const db = new Database(join(file, "business.sqlite"), { readonly: true });
    await server.by("postgres", (client) => client.query("CREATE DATABASE ferries"));
    await server.by("ferries", (client) => copyDatabase(client, db, inspectDatabase(db, [])));
    db.close();
    cpSync(file, other, { recursive: true });
    here = new Workspace(file, join(file, "business.sqlite"), process.cwd(), NOW);
    there = ledgerOver("ferries", other);
    const { tables } = await there.schema();
    const large = tables.filter((t) => !t.view && t.rows >= LARGE).map((t) => t.name);
    await chooseCopiedAsOf(there, { tables: large, time: "07:00" });
    await until(() => isCopied(there, ...tables.filter((t) => !t.view).map((t) => t.name)));
  }, 180_000);
  afterAll(() => {
    here?.close();
    there?.close();
  });

  it("answers every saved query alike, proves it by the copied rows, and says of which moment it is", async () => {
    const early = there.early();
    let told = 0;
    for (const { name, spec } of here.catalogue.list("query")) {
      const question = { spec, values: {}, asOf: true };
      const window = { offset: 0, rows: 1000 };
      const own = await answerOf(here, "/api/query/rows", { spec, values: {}, ...window });
      const { rows, asOf } = (await answerOf(early, "/api/query/rows", { ...question, ...window })) as SheetRows;
      expect(rows, name).toEqual(own);
      const footing = (await agree(here, early, name, "/api/query/footing", question)) as FootingAnswer;
      const proof = (await agree(here, early, name, "/api/query/proof", question)) as Proof;
      expect([footing.asOf, proof.asOf], name).toEqual([asOf, asOf]);
      expect(proof.answeredBy, name).toBe(asOf ? "columnar" : "postgres");
      if (asOf === null) continue;
      expect(asOf, name).toMatch(/^2026-11-23T10:/);
      told++;
    }
    expect(told).toBeGreaterThan(0);
  }, 120_000);

  it("so every pivot, chart and tile, and recounts of pivots", async () => {
    await agreeOnFigures(here, there.early());
    const [pivot] = here.catalogue.list("pivot");
    const { asOf } = (await answerOf(there.early(), "/api/pivots", { spec: pivot?.spec, values: {} })) as { asOf: string };
    expect(asOf).toMatch(/^2026-11-23T10:/);
    const recounted = (of: Workspace, more = {}) => answerOf(of, "/api/pivots/recount", { spec: pivot?.spec, values: {}, ...more });
    expect(await recounted(there.early(), { asOf })).toEqual(await recounted(here));
    const gone = await recounted(there.early(), { asOf: "2026-11-22T07:00:00.000Z" });
    expect(gone).toEqual({ refused: expect.stringContaining("copied again meanwhile") });
  }, 120_000);
});

const TABLES = `
CREATE TABLE shop (id int PRIMARY KEY, name text NOT NULL);
INSERT INTO shop VALUES (1, 'North'), (2, E'So\\tuth\\n\\\\N'), (3, 'Été');
CREATE TABLE sale (id int PRIMARY KEY, shop int REFERENCES shop, amount numeric(12,2), paid boolean, day date, at timestamp, note text);
INSERT INTO sale SELECT i, i % 3 + 1, CASE WHEN i % 7 > 0 THEN i + 0.25 END, i % 2 = 0, DATE '1960-02-28' + i, TIMESTAMP '1969-12-31 23:59:59.123456' + i * INTERVAL '1 hour', CASE WHEN i % 5 > 0 THEN 'note ' || i % 4 END FROM generate_series(1, 5000) AS i;
CREATE TABLE visit (id int PRIMARY KEY, shop int REFERENCES shop);
INSERT INTO visit SELECT i, i % 3 + 1 FROM generate_series(1, 100) AS i;
ANALYZE`;

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
/** Sales by shop. */
const BY_SHOP: QuerySpec = {
  ...emptyQuery("sale"),
  joins: [{ id: "s", from: "", link: "", toward: "b", way: "keep" }],
  grouped: true,
  columns: [
    { id: "shop", value: field("name", "s") },
    { id: "n", value: null, figure: "count" },
    { id: "total", value: field("amount"), figure: "total" },
    { id: "first", value: field("at"), figure: "least" },
    { id: "last", value: field("at"), figure: "greatest" },
  ],
  order: [{ column: "shop", direction: "up" }],
};

describe("a ledger over a server", () => {
  let ws: Workspace;
  const change = (sql: string) => server.by("shops", (client) => client.query(sql));
  const asked = { values: {}, offset: 0, rows: 100 };
  const answer = async <T>(path: Parameters<typeof answerOf>[1], body: object, of = ws.early()) => (await answerOf(of, path, { ...asked, ...body })) as T;
  const sheet = (spec: QuerySpec, of?: Workspace) => answer<SheetRows>("/api/query/rows", { spec, asOf: true }, of);
  const choose = async (...tables: string[]) => {
    await chooseCopiedAsOf(ws, { tables, time: "07:00" });
    await until(() => isCopied(ws, ...tables));
  };
  /** Has it copied again, and waits until it is. */
  const again = async () => {
    const before = ws.copy?.kept.state?.tables[0]?.at;
    await copyAgainAsOf(ws);
    await until(() => ws.copy?.kept.state?.coming === null && ws.copy.kept.state.tables[0]?.at !== before);
  };

  beforeAll(async () => {
    await server.by("postgres", (client) => client.query("CREATE DATABASE shops"));
    await change(TABLES);
    ws = ledgerOver("shops");
  }, 60_000);
  afterAll(() => ws?.close());

  it("reads groups from the server until an owner chooses their table", async () => {
    const link = (await ws.schema()).links.find((l) => [l.a.table, l.b.table].sort().join() === "sale,shop");
    Object.assign(BY_SHOP.joins[0] as object, { link: link?.id, toward: link?.a.table === "sale" ? "b" : "a" });
    expect((await sheet(BY_SHOP)).asOf).toBeNull();
    expect(ws.copy?.kept.state).toBeNull();
  });

  it("reads them as of the copy from then on, the same to the last digit", async () => {
    const live = await sheet(BY_SHOP);
    await choose("sale");
    expect(ws.copy?.kept.state?.tables.map(({ name, rows }) => [name, rows]).sort()).toEqual([
      ["sale", 5000],
      ["shop", 3],
    ]);
    const copied = await sheet(BY_SHOP);
    expect(copied).toEqual({ asOf: expect.stringMatching(/^2026-11-23T10:/), rows: live.rows });
    expect(JSON.stringify(copied.rows)).toContain(".123456");
  });

  it("does so for what says it alone: not for single rows, other tables, what is sent or written", async () => {
    await change("UPDATE sale SET amount = amount + 1000 WHERE id = 1; UPDATE visit SET shop = 1 WHERE id = 1; UPDATE shop SET name = 'Nord' WHERE id = 1");
    const total = ({ rows }: { rows: unknown[][] }) => rows.find(([name]) => name === "Nord" || name === "North");
    const [copied, live] = [await sheet(BY_SHOP), await sheet(BY_SHOP, ws)];
    expect([copied.asOf === null, total(copied)?.[0], live.asOf, total(live)?.[0]]).toEqual([false, "North", null, "Nord"]);
    // Who does not ask for it, and tells it, has what is there now.
    expect(await answer<unknown[][]>("/api/query/rows", { spec: BY_SHOP })).toEqual(live.rows);
    const single: QuerySpec = { ...emptyQuery("sale"), columns: [{ id: "a", value: field("amount") }], order: [{ column: "a", direction: "down" }] };
    expect((await sheet(single)).asOf).toBeNull();
    const visits: QuerySpec = { ...emptyQuery("visit"), grouped: true, columns: [{ id: "n", value: null, figure: "count" }] };
    expect((await sheet(visits)).asOf).toBeNull();
  });

  it("proves them of the copied rows, and says so", async () => {
    const proof = await answer<Proof>("/api/query/proof", { spec: BY_SHOP, asOf: true });
    const live = await answer<Proof>("/api/query/proof", { spec: BY_SHOP });
    expect([proof.agrees, proof.answeredBy, proof.asOf?.slice(0, 10)]).toEqual([true, "columnar", "2026-11-23"]);
    expect([live.agrees, live.answeredBy, live.asOf]).toEqual([true, "postgres", null]);
    expect(proof.accounted).not.toEqual(live.accounted);
  });

  it("says no where what was worked out is not what the copied rows come to: another figure, a row less", async () => {
    vi.stubEnv("NEXT_LEDGER_COPY", ws.copy?.socket);
    const plan = await planOf(ws, BY_SHOP, {});
    /** @param more what every figure is told to be above what it is; @param less how many rows the recount is kept from */
    const proved = (more: number, less: number) =>
      readingBeside(
        ws.database,
        [plan],
        async (tables, reader) => {
          expect([reader.engine, reader.asOf]).toEqual(["columnar", expect.stringMatching(/^2026-11-23/)]);
          const some: typeof tables = (table, columns) => [...tables(table, columns)].slice(table === "sale" ? less : 0);
          const told = (cell: Cell) => (typeof cell === "number" ? cell + more : cell);
          return answeredLater(provingQuery(plan, "total", some), async (s) => (await reader.answer(s)).map((row) => row.map(told)));
        },
        ["sale"],
      );
    expect([(await proved(0, 0)).agrees, (await proved(1, 0)).agrees, (await proved(0, 1)).agrees]).toEqual([true, false, false]);
    vi.unstubAllEnvs();
  });

  it("has them as they are now when they are copied again, each day or when it is asked for", async () => {
    await again();
    expect((await sheet(BY_SHOP)).rows).toEqual((await sheet(BY_SHOP, ws)).rows);
  });

  it("copies another table that is chosen, and a table that is another; what is not chosen any more goes", async () => {
    await choose("sale", "visit");
    expect(isCopied(ws, "sale", "visit", "shop")).toBe(true);
    // A small table that comes has not all of them copied again.
    const before = ws.copy?.kept.state?.tables[0]?.at;
    await change("CREATE TABLE mark (id int PRIMARY KEY)");
    await vi.waitFor(async () => expect((await ws.schema()).tables.map((t) => t.name)).toContain("mark"), 20_000);
    await ws.keepCopiedAsOf();
    await new Promise((done) => setTimeout(done, 1500));
    expect(ws.copy?.kept.state?.tables[0]?.at).toBe(before);
    await change("ALTER TABLE sale ALTER COLUMN amount TYPE numeric(12,3)");
    await vi.waitFor(
      async () => expect((await ws.schema()).tables.find((t) => t.name === "sale")?.columns.find((c) => c.name === "amount")?.type).toMatchObject({ scale: 3 }),
      20_000,
    );
    // Until it is copied as it is now, the server is asked.
    await vi.waitFor(async () => {
      await ws.keepCopiedAsOf();
      expect((await sheet(BY_SHOP)).asOf).not.toBeNull();
    }, 20_000);
    expect((await sheet(BY_SHOP)).rows).toEqual((await sheet(BY_SHOP, ws)).rows);
    await choose("visit");
    await until(() => !isCopied(ws, "sale"));
    expect((await sheet(BY_SHOP)).asOf).toBeNull();
    await choose("sale");
  }, 60_000);

  it("keeps what it has where the server goes away, tells why, and copies again when it is back", async () => {
    await until(() => isCopied(ws, "sale", "shop"));
    const tables = tablesToCopyAsOf(await ws.schema(), ["sale"], LARGE);
    server.pause();
    ws.copy?.want(tables, "2026-11-24T07:00:00.000Z", Date.parse("2026-11-24T08:00:00Z") - Date.now());
    await until(() => ws.copy?.kept.failed !== null);
    expect(isCopied(ws, "sale", "shop")).toBe(true);
    server.go();
    await vi.waitFor(async () => void (await ws.schema()), 20_000);
    await again();
    expect(ws.copy?.kept.failed).toBeNull();
    expect((await sheet(BY_SHOP)).asOf).not.toBeNull();
  }, 60_000);

  it("throws the copy away where nothing is chosen", async () => {
    await chooseCopiedAsOf(ws, { tables: [], time: "07:00" });
    expect([ws.copy?.kept.state, ws.copy?.bytes]).toEqual([null, 0]);
    expect((await sheet(BY_SHOP)).asOf).toBeNull();
  });

  it("keeps what it has where the disk is almost full", async () => {
    const store = await ColumnarStore.open(join(place.folder, "full"), "a database", 1);
    const wanted = tablesToCopyAsOf(await ws.schema(), ["sale"], LARGE).filter((t) => t.name === "sale");
    const copy: CopyOne = async (_, duck, into, { told }) => {
      await duck.run(`CREATE TABLE "${into}" (id BIGINT)`);
      told(1);
      return { rows: 1, unlike: false };
    };
    await store.renew(wanted, "2026-11-22T07:00:00.000Z", copy);
    const full = vi.spyOn(store as unknown as { mustHaveRoom: () => void }, "mustHaveRoom").mockImplementation(() => {
      throw new NoRoom("The disk is almost full.");
    });
    await expect(store.renew(wanted, "2026-11-23T07:00:00.000Z", copy)).rejects.toThrow("almost full");
    expect(store.state).toEqual({ tables: [{ name: "sale", rows: 1, at: "2026-11-22T07:00:00.000Z" }], coming: null, without: [] });
    full.mockRestore();
    // What came of the other one takes no room.
    const { writer } = store as unknown as { writer: DuckDBConnection };
    expect((await writer.runAndReadAll("SELECT table_name FROM duckdb_tables() ORDER BY 1")).getRowsJS().flat()).toEqual(["next ledger copied", "sale"]);
    await store.renew(wanted, "2026-11-23T07:00:00.000Z", copy);
    expect(store.state.tables[0]?.at).toBe("2026-11-23T07:00:00.000Z");
    store.close();
  });

  describe("a copy that is not the table's", () => {
    const copySale = async (meanwhile: (run: (sql: string) => Promise<unknown>) => Promise<unknown>) => {
      const duck = await (await DuckDBInstance.create(":memory:")).connect();
      const table = tablesToCopyAsOf(await ws.schema(), ["sale"], LARGE).find((t) => t.name === "sale");
      let done = false;
      const pause = async () => {
        if (!done) await meanwhile((sql) => duck.run(sql));
        done = true;
      };
      return ofOneMoment(ws.database, (copy) => copy(table as NonNullable<typeof table>, duck, "into", { told: () => {}, pause }));
    };
    it("is not kept: a row more, a row less, another amount", async () => {
      await expect(copySale(async () => {})).resolves.toMatchObject({ rows: 5000 });
      for (const sql of ["INSERT INTO into (id) VALUES (9)", "INSERT INTO into (id, amount) VALUES (9, NULL)"])
        await expect(
          copySale((run) => run(sql.replace("INTO into", 'INTO "into"'))),
          sql,
        ).rejects.toThrow("did not agree");
    });
    it("is of one moment, whatever is written meanwhile", async () => {
      const { rows } = await copySale(() => change("INSERT INTO sale (id) VALUES (100001)"));
      expect(rows).toBe(5000);
      await change("DELETE FROM sale WHERE id = 100001");
    });
    it("is not kept where the server goes away in its midst: nothing is taken for a table that cannot be copied", async () => {
      const gone = await copySale(async () => server.pause()).catch((error: unknown) => error);
      expect(gone).toBeInstanceOf(Error);
      expect(gone).not.toBeInstanceOf(NotCopied);
      server.go();
      await vi.waitFor(async () => void (await ws.schema()), 20_000);
    }, 30_000);
    it("is not made of values that are none, and of what may not be read", async () => {
      await change("UPDATE sale SET day = 'infinity' WHERE id = 3");
      await expect(copySale(async () => {})).rejects.toThrow(new NotCopied('Column "day" has an invalid value.'));
      await change("UPDATE sale SET day = NULL WHERE id = 3; CREATE ROLE looks LOGIN; GRANT SELECT ON shop, visit, mark TO looks");
      const other = ledgerOver("shops", undefined, "looks");
      const [sale] = tablesToCopyAsOf(await ws.schema(), ["sale"], LARGE).filter((t) => t.name === "sale");
      other.copy?.want([sale as NonNullable<typeof sale>, ...tablesToCopyAsOf(await ws.schema(), ["visit"], LARGE)]);
      await until(() => isCopied(other, "visit", "shop"));
      expect(other.copy?.kept.state?.without).toEqual([{ name: "sale", why: "The database server refused to read it: permission denied for table sale." }]);
      other.close();
    }, 30_000);
  });
});
