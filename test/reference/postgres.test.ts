import { execFileSync } from "node:child_process";
import { cpSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { plainTiles } from "@/core/dashboard/tiles";
import type { Schema } from "@/core/schema/schema";
import { Engine } from "@/server/engine/engine";
import { type AnswerPath, answerTo } from "@/server/http/answers";
import { Workspace } from "@/server/services/workspace/workspace";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { temporaryFolder } from "../support/ledger";
import { copyDatabase, type Server, startServer } from "../support/postgres";

/*
 * The demo company on a database server (Debian's PostgreSQL, started here): every saved object gives what it gives on SQLite.
 * That is an engine of its own, with another planner and its own arithmetic; the recount runs on both.
 */

const NOW = () => new Date("2026-11-23T10:00:00Z");
const place = temporaryFolder();
let server: Server;
let here: Workspace;
let there: Workspace;

beforeAll(async () => {
  server = await startServer();
  const file = join(place.folder, "file");
  execFileSync(process.execPath, ["dist/make-demo.mjs", file, "--bare"]);
  const db = new Database(join(file, "business.sqlite"), { readonly: true });
  await server.by("postgres", (client) => client.query("CREATE DATABASE ferries"));
  await server.by("ferries", (client) => copyDatabase(client, db, inspectDatabase(db, [])));
  db.close();
  const other = join(place.folder, "server");
  cpSync(file, other, { recursive: true });
  here = new Workspace(file, join(file, "business.sqlite"), process.cwd(), NOW);
  there = new Workspace(other, server.address("ferries"), process.cwd(), NOW, new Engine(join(process.cwd(), "dist/engine.mjs")));
}, 120_000);
afterAll(() => {
  here?.close();
  there?.close();
  server?.stop();
  place.remove();
});

const plain = (answer: unknown): unknown => (Buffer.isBuffer(answer) ? JSON.parse(answer.toString()) : answer);

/** Floating figures depend on the order in which they are added; which engine answered is another. */
const compared = (answer: unknown): unknown =>
  JSON.parse(
    JSON.stringify(plain(answer), (key, value) => {
      if (key === "answeredBy") return undefined;
      return typeof value === "number" && !Number.isInteger(value) ? Number(value.toPrecision(9)) : value;
    }),
  );

/** The same question here and there. */
async function both(path: AnswerPath, body: unknown): Promise<unknown[]> {
  const caller = { client: "test", signal: new AbortController().signal };
  const ask = (ws: Workspace) => answerTo(ws, path, body, caller).then(compared, (error: Error) => ({ refused: error.message }));
  return [await ask(here), await ask(there)];
}

async function agrees(name: string, path: AnswerPath, body: unknown): Promise<void> {
  const [own, other] = await both(path, body);
  expect(own, `${name}: ${JSON.stringify(own).slice(0, 500)}`).not.toHaveProperty("refused");
  expect(other, `${name} ${path}`).toEqual(own);
}

const saved = (kind: "query" | "pivot" | "chart" | "report" | "letter" | "dashboard") => here.catalogue.list(kind);

const shapeOf = ({ tables, links }: Schema) => ({
  tables: tables
    .map((t) => ({ name: t.name, key: t.key, rows: t.rows, columns: t.columns.map((c) => [c.name, c.type, c.nullable, c.unit]) }))
    .sort((a, b) => a.name.localeCompare(b.name)),
  links: links.map((l) => l).sort((a, b) => a.id.localeCompare(b.id)),
});

describe("the demo company on a server", () => {
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

  it("fills every tile of every dashboard alike", async () => {
    for (const { name, spec } of saved("dashboard")) {
      for (const { id } of plainTiles(dashboardSpecSchema.parse(spec))) await agrees(`${name} ${id}`, "/api/dashboards/tile", { spec, tile: id, values: {} });
    }
  }, 120_000);
});
