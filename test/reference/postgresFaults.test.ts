import { execFileSync } from "node:child_process";
import { existsSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import type { ImportSpec } from "@/core/import/spec";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { text, type ValueType, whole } from "@/core/types/valueType";
import { editOf } from "@/server/services/posting/service";
import { planOf, rowsOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import type { Connection } from "@/server/source/connection";
import { reachServer } from "@/server/source/postgres/check";
import { faultOf } from "@/server/source/postgres/faults";
import { Session } from "@/server/source/postgres/session";
import { ServerWatch } from "@/server/source/postgres/watch";
import { openLedger, temporaryFolder } from "../support/ledger";
import { OWNER, type Server, startServer } from "../support/postgres";

/* What goes wrong with a database server, and what is said of it. Nothing is left running there, and nothing half done. */

const CALLER = { client: "test" };
let server: Server;
let ws: Workspace;
let place: ReturnType<typeof temporaryFolder>;

beforeAll(async () => {
  server = await startServer();
  await server.by("postgres", (client) => client.query("CREATE DATABASE ledger"));
  await server.by("ledger", (client) =>
    client.query(`CREATE TABLE entry (id integer PRIMARY KEY, note text, amount numeric(10, 2));
      INSERT INTO entry SELECT n, 'note ' || n, n FROM generate_series(1, 5000) AS n;
      CREATE VIEW endless AS SELECT n AS id, n * n AS amount FROM generate_series(1::bigint, 1000000000000) AS n;
      CREATE TABLE moving (id integer PRIMARY KEY, was integer)`),
  );
}, 60_000);
afterAll(() => server?.stop());
beforeEach(() => {
  place = temporaryFolder();
  ws = openLedger(place.folder, server.address("ledger"));
});
afterEach(() => {
  ws.close();
  place.remove();
});

const columns = (...names: string[]): QuerySpec["columns"] => names.map((column) => ({ id: column, value: { kind: "field", join: "", column } }));
const asked = (table: string, ...names: string[]): QuerySpec => ({ ...emptyQuery(table), columns: columns(...names) });
const rows = async (spec: QuerySpec, more: { signal?: AbortSignal } = {}) =>
  JSON.parse((await rowsOf(ws, { spec, values: {} } as never, { offset: 0, rows: 10 }, { ...CALLER, ...more })).toString()) as unknown[][];
const total: QuerySpec = {
  ...emptyQuery("endless"),
  grouped: true,
  columns: [{ id: "t", value: { kind: "field", join: "", column: "amount" }, figure: "total" }],
};

/** What others than the one who asks are doing at the server, in the ledger's name. */
const busy = () =>
  server.by(
    "ledger",
    async (client) => (await client.query("SELECT query FROM pg_stat_activity WHERE application_name = 'Next Ledger' AND state <> 'idle'")).rows,
  );

/** Those of them that read what has no end; one that is only about to is none. */
const reading = async () => (await busy()).filter(({ query }) => query.includes("endless"));

describe("a query", () => {
  it("that is stopped is stopped at the server", async () => {
    await ws.schema();
    const stop = new AbortController();
    const answer = rows(total, { signal: stop.signal });
    await vi.waitFor(async () => expect(await reading()).toHaveLength(1), { timeout: 10_000, interval: 20 });
    stop.abort();
    await expect(answer).rejects.toThrow("Stopped");
    await vi.waitFor(async () => expect(await busy()).toEqual([]), { timeout: 10_000, interval: 20 });
  });

  it("of somebody else is answered while others have more going on than there are processes", async () => {
    await ws.schema();
    const stop = new AbortController();
    const plan = await planOf(ws, total, {});
    const heavy = ["ann", "ben"].flatMap((client) =>
      Array.from({ length: 5 }, () =>
        ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement: { of: "rows", plan } }, { client, signal: stop.signal }).catch(() => "stopped"),
      ),
    );
    // Each of them has two at the server; the others wait.
    await vi.waitFor(async () => expect(await reading()).toHaveLength(4), { timeout: 20_000, interval: 20 });
    expect(await rows(asked("entry", "id"))).toHaveLength(10);
    expect(await reading()).toHaveLength(4);
    stop.abort();
    expect(await Promise.all(heavy)).toEqual(Array(10).fill("stopped"));
    await vi.waitFor(async () => expect(await busy()).toEqual([]), { timeout: 10_000, interval: 20 });
  }, 60_000);

  it("that the server ends is told with its reason, and the next one is answered", async () => {
    await ws.schema();
    for (const [end, words] of [
      ["pg_cancel_backend", "stopped this query"],
      ["pg_terminate_backend", "connection to the database server was lost"],
    ] as const) {
      const answer = rows(total);
      answer.catch(() => {});
      await vi.waitFor(async () => expect(await reading()).toHaveLength(1), { timeout: 10_000, interval: 20 });
      await server.by("ledger", (client) =>
        client.query(`SELECT ${end}(pid) FROM pg_stat_activity WHERE application_name = 'Next Ledger' AND state <> 'idle'`),
      );
      await expect(answer).rejects.toThrow(words);
      expect(await rows(asked("entry", "id"))).toHaveLength(10);
    }
  });

  it("of a table that was dropped or retyped meanwhile is told so; the shape is then read again", async () => {
    const plan = await planOf(ws, asked("moving", "id", "was"), {});
    await server.by("ledger", (client) => client.query("ALTER TABLE moving DROP COLUMN was"));
    const now = () => ws.engine.run<"rows">({ kind: "rows", database: ws.database, statement: { of: "rows", plan } }, CALLER);
    await expect(now()).rejects.toThrow("does not exist any more");
    expect((await ws.schema()).tables.find((t) => t.name === "moving")?.columns.map((c) => c.name)).toEqual(["id"]);
    await server.by("ledger", (client) => client.query("DROP TABLE moving"));
    await expect(now()).rejects.toThrow("does not exist any more");
    expect((await ws.schema()).tables.map((t) => t.name)).toEqual(["endless", "entry"]);
  });

  it("does not have the shape read again for tables that last only as long as somebody's connection", async () => {
    const watch = new ServerWatch(server.address("ledger"));
    const { shape } = await watch.stamp();
    await server.by("ledger", async (client) => {
      await client.query("CREATE TEMP TABLE passing (id integer PRIMARY KEY, note text)");
      expect((await watch.stamp()).shape).toBe(shape);
    });
    await server.by("ledger", (client) => client.query("ALTER TABLE entry ADD COLUMN more text"));
    expect((await watch.stamp()).shape).not.toBe(shape);
    watch.close();
  });

  it("sees what others wrote since, and all of one moment", async () => {
    const before = await ws.state();
    expect(await ws.state()).toBe(before);
    await server.by("ledger", (client) => client.query("UPDATE entry SET note = 'changed' WHERE id = 1"));
    expect(await ws.state()).not.toBe(before);
    expect((await rows(asked("entry", "id", "note")))[0]).toEqual([1, "changed"]);
  });
});

describe("a server that goes away", () => {
  it("leaves no half file, no half edit; when it is there again, so is the ledger", async () => {
    await ws.schema();
    const plan = await planOf(ws, asked("endless", "id", "amount"), {});
    const path = join(place.folder, "half.csv");
    const file = ws.engine.run<"export">({ kind: "export", format: "csv", database: ws.database, plan, path }, CALLER);
    file.catch(() => {});
    await vi.waitFor(() => expect(existsSync(`${path}.part`)).toBe(true), { timeout: 10_000 });
    server.pause();
    await expect(file).rejects.toThrow("connection to the database server was lost");
    expect([existsSync(path), existsSync(`${path}.part`)]).toEqual([false, false]);
    await expect(ws.schema()).rejects.toThrow(/does not answer|connection to the database server was lost/);
    await expect(editOf(ws, "entry", { kind: "change", key: [1], column: "note", text: "x", was: "changed" }, CALLER)).rejects.toThrow(/does not answer|lost/);
    server.go();
    expect((await rows(asked("entry", "id"))).length).toBe(10);
    await editOf(ws, "entry", { kind: "change", key: [2], column: "note", text: "x", was: "note 2" }, CALLER);
  }, 60_000);

  it("in the midst of a COPY leaves no table of an import; the same file is brought in when it is there again", async () => {
    await ws.schema();
    const path = join(place.folder, "readings.csv");
    writeFileSync(path, `code,amount\n${Array.from({ length: 400_000 }, (_, i) => `c${i},${i}\n`).join("")}`);
    const column = (name: string, type: ValueType): ImportSpec["columns"][number] => ({ name, type, dates: "dmy", left: false });
    const spec: ImportSpec = {
      format: { kind: "delimited", encoding: "utf-8", delimiter: ",", quote: '"', heading: true, comma: false },
      columns: [column("code", text), column("amount", whole)],
      misfits: "keep",
      into: { kind: "table", name: "reading", key: null },
    };
    const bring = () => {
      const entry = { at: "2026-11-23T08:00:00Z", by: "a test", kind: "table" as const, name: "readings", brief: "", table: "reading" };
      return ws.engine.run<"importFile">({ kind: "importFile", path, spec, into: { kind: "table", database: ws.database, entry } }, CALLER);
    };
    const first = bring();
    first.catch(() => {});
    await vi.waitFor(async () => expect(await busy()).toMatchObject([{ query: expect.stringMatching(/^COPY /) }]), { timeout: 20_000, interval: 5 });
    server.pause();
    await expect(first).rejects.toThrow("connection to the database server was lost");
    server.go();
    expect((await ws.schema()).tables.map((t) => t.name)).not.toContain("reading");
    expect(await bring()).toMatchObject({ rows: 400_000, entry: { number: expect.any(Number) } });
    expect(await rows(asked("reading", "code", "amount"))).toHaveLength(10);
  }, 120_000);
});

/** A statement by somebody else while this process is busy. */
function meanwhile(text: string): void {
  const script = `import("pg").then(async ({ default: pg }) => { const c = new pg.Client({ connectionString: "${server.address("ledger")}" }); await c.connect(); await c.query("${text}"); await c.end(); })`;
  execFileSync(process.execPath, ["--input-type=module", "-e", script]);
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 200);
}

describe("a row that somebody else writes in the midst of a change", () => {
  it("is theirs: the change is not made, and that is told", () => {
    const session = new Session(server.address("ledger"));
    const amount = (db: Connection) => db.prepare("SELECT amount FROM entry WHERE id = 10").pluck().get();
    const doubled = () =>
      session.writing("commit", (db) => {
        const seen = amount(db);
        meanwhile("UPDATE entry SET amount = 77 WHERE id = 10");
        expect(amount(db), "what was seen stays so").toBe(seen);
        db.prepare("UPDATE entry SET amount = ? WHERE id = 10").run(2 * Number(seen));
      });
    expect(doubled).toThrow(expect.objectContaining({ code: "40001" }));
    expect(faultOf("40001", "").code).toBe("changedSince");
    expect(session.snapshot(amount)).toBe("77.00");
    session.close();
  });
});

describe("a connection that is lost", () => {
  it("in the midst of a change takes all of it along: nothing is written on another connection", async () => {
    const session = new Session(server.address("ledger"));
    const insert = (db: Connection, id: number) => db.prepare("INSERT INTO entry (id, note) VALUES (?, ?)").run(id, "half");
    const half = () =>
      session.writing("commit", (db) => {
        insert(db, 9001);
        meanwhile(`SELECT pg_terminate_backend(${db.prepare("SELECT pg_backend_pid()").pluck().get()})`);
        insert(db, 9002);
      });
    expect(half).toThrow("Connection terminated");
    expect(await server.by("ledger", async (client) => (await client.query("SELECT id FROM entry WHERE note = 'half'")).rows)).toEqual([]);
    session.writing("commit", (db) => insert(db, 9003));
    expect(await server.by("ledger", async (client) => (await client.query("SELECT id FROM entry WHERE note = 'half'")).rows)).toEqual([{ id: 9003 }]);
  });
});

describe("an address", () => {
  const at = (more = "", database = "ledger", user = OWNER) => `${server.address(database, user)}${more}`;
  it.each([
    ["of no server", () => "postgres://ledger@127.0.0.1:1/ledger", "does not answer"],
    ["of no host", () => "postgres://ledger@no-such-host.invalid/ledger", "does not answer"],
    ["of no database", () => at("", "nowhere"), "no database of this name"],
    ["of nobody", () => at("", "ledger", "nobody_here"), "refused the user name or password"],
    ["that insists on what the server has not", () => at("?sslmode=require"), "No encrypted connection"],
    ["with an unknown setting", () => at("?mode=x"), "has a setting that is not known"],
    ["of another kind", () => "postgres:ledger", "names no server"],
  ])("%s is refused in a sentence", async (_, address, words) => {
    await expect(reachServer(address())).rejects.toThrow(words);
  });

  it("with a password is shown and passed on without it", async () => {
    const reached = await reachServer(at().replace("ledger@", "ledger:se%20cret@"));
    expect(reached).toEqual({ address: at(), password: "se cret", name: "ledger" });
    delete process.env.PGPASSWORD;
  });
});

describe("a database of 3,000 tables", () => {
  it("is opened, and asked", async () => {
    await server.by("postgres", (client) => client.query("CREATE DATABASE many"));
    await server.by("many", (client) =>
      client.query(
        "DO $$ BEGIN FOR n IN 1..3000 LOOP EXECUTE format('CREATE TABLE t%s (id integer PRIMARY KEY, a text, b numeric(10, 2))', n); END LOOP; END $$",
      ),
    );
    const other = temporaryFolder();
    const many = openLedger(other.folder, server.address("many"));
    const { tables } = await many.schema();
    expect([tables.length, tables[0]?.columns.length]).toEqual([3000, 3]);
    many.close();
    other.remove();
  }, 120_000);
});
