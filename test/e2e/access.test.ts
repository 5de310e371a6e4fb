import { readdirSync } from "node:fs";
import { dirname } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyPivot } from "@/core/pivot/empty";
import { queryTableName } from "@/core/query/choices";
import { emptyQuery } from "@/core/query/empty";
import { type Application, Desk, openApplication, post } from "../support/server";

/*
 * Who gets in where: every route by every role, every object by who it is for. The
 * tables here say what is meant; the application is asked over HTTP, as anybody could ask it.
 */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

type Role = "owner" | "analyst" | "viewer";
const PEOPLE: Record<Role, string> = { owner: "demo-owner", analyst: "demo-analyst", viewer: "demo-una" };
const RANK: Role[] = ["viewer", "analyst", "owner"];

/** The least a caller must be; "open" is anybody. A route that is not named here fails the test. */
const ROUTES: Record<string, Partial<Record<"GET" | "POST" | "PATCH" | "PUT" | "DELETE", Role | "open">>> = {
  broken: { POST: "analyst" },
  bin: { POST: "analyst" },
  copy: { GET: "owner", POST: "owner" },
  "copy/as-of": { GET: "owner", POST: "owner" },
  charts: { POST: "analyst" },
  "charts/colours": { POST: "analyst" },
  "charts/export": { POST: "viewer" },
  "charts/new": { POST: "analyst" },
  "dashboards/choices": { POST: "viewer" },
  "dashboards/export": { POST: "viewer" },
  "dashboards/tile": { POST: "viewer" },
  "dashboards/values": { POST: "viewer" },
  "desk/controls": { GET: "analyst" },
  "desk/dashboard": { POST: "owner" },
  "desk/pin": { POST: "viewer" },
  "desk/walk": { POST: "analyst" },
  definitions: { GET: "analyst", POST: "analyst" },
  drafts: { GET: "analyst", POST: "analyst" },
  find: { GET: "viewer" },
  "find/rows": { GET: "analyst" },
  help: { GET: "viewer" },
  imports: { POST: "analyst" },
  "imports/[id]/run": { POST: "analyst" },
  "imports/[id]/scan": { POST: "analyst" },
  logo: { GET: "open" },
  "letters/export": { POST: "viewer" },
  "letters/new": { POST: "analyst" },
  "letters/page": { POST: "viewer" },
  "letters/proof": { POST: "analyst" },
  "links/evidence": { POST: "analyst" },
  "links/suggest": { POST: "analyst" },
  objects: { GET: "viewer", POST: "analyst" },
  opening: { GET: "viewer" },
  "objects/list": { POST: "viewer" },
  "objects/marks": { POST: "analyst" },
  "objects/several": { POST: "analyst" },
  "objects/[id]": { PATCH: "analyst", DELETE: "analyst" },
  "objects/[id]/about": { GET: "analyst" },
  "objects/[id]/shares": { GET: "analyst", PUT: "analyst" },
  progress: { GET: "viewer" },
  "outbox/all": { GET: "analyst" },
  "outbox/file": { GET: "analyst" },
  "outbox/keep": { POST: "owner" },
  "outbox/preview": { GET: "analyst" },
  "p/[address]": { POST: "open" },
  "pages/[id]": { POST: "viewer" },
  "pages/[id]/change": { POST: "viewer" },
  "pages/[id]/publish": { GET: "analyst", POST: "analyst" },
  "pages/draft": { POST: "analyst" },
  "pages/new": { POST: "analyst" },
  people: { POST: "owner" },
  "people/[id]": { PATCH: "owner" },
  "people/me": { POST: "viewer" },
  pivots: { POST: "analyst" },
  "pivots/export": { POST: "viewer" },
  "pivots/new": { POST: "analyst" },
  "pivots/recount": { POST: "analyst" },
  "postings/tidy": { POST: "analyst" },
  "postings/journal": { POST: "analyst" },
  "postings/journal/export": { POST: "analyst" },
  "postings/new": { POST: "analyst" },
  "postings/next": { POST: "analyst" },
  "postings/outcomes": { POST: "analyst" },
  "postings/post": { POST: "analyst" },
  "postings/preview": { POST: "analyst" },
  "postings/reversal": { POST: "analyst" },
  "postings/reverse": { POST: "analyst" },
  "postings/rows": { POST: "analyst" },
  "postings/source": { POST: "analyst" },
  "query/export": { POST: "analyst" },
  "query/table": { POST: "analyst" },
  "query/find": { POST: "analyst" },
  "query/frequent": { POST: "analyst" },
  "query/names": { POST: "viewer" },
  "query/profile": { POST: "analyst" },
  "query/choices": { POST: "analyst" },
  "query/oneside": { POST: "analyst" },
  "query/own": { POST: "analyst" },
  "query/pairs": { POST: "analyst" },
  "query/footing": { POST: "viewer" },
  "query/proof": { POST: "viewer" },
  "query/rows": { POST: "viewer" },
  "query/values": { POST: "analyst" },
  "report/export": { POST: "viewer" },
  "report/find": { POST: "viewer" },
  "report/glance": { POST: "viewer" },
  "report/new": { POST: "analyst" },
  "report/pages": { POST: "viewer" },
  "report/repoint": { POST: "analyst" },
  "schedules/[id]/run": { POST: "analyst" },
  "schedules/[id]/send": { POST: "analyst" },
  "schedules/each": { POST: "analyst" },
  "schedules/each/columns": { POST: "analyst" },
  "schedules/each/pages": { POST: "analyst" },
  "schedules/items": { POST: "analyst" },
  "schedules/state": { GET: "analyst" },
  schema: { GET: "analyst" },
  settings: { POST: "owner" },
  session: { POST: "open", DELETE: "open" },
  "session/demo": { POST: "open" },
  "tables/map": { POST: "analyst" },
  "tables/column": { POST: "analyst" },
  "tables/named": { POST: "analyst" },
  "tables/edit": { POST: "analyst" },
  "tables/shape/survey": { POST: "analyst" },
  "tables/shape/change": { POST: "analyst" },
  "tables/history": { POST: "analyst" },
  "tables/drop": { POST: "analyst" },
  "tables/duplicates": { POST: "analyst" },
  "tables/merge": { POST: "analyst" },
  "tables/merge/preview": { POST: "analyst" },
  "tables/uses": { POST: "analyst" },
};

const PAGES: Record<string, Role> = {
  "/": "viewer",
  "/settings": "viewer",
  "/queries": "viewer",
  "/pivots": "viewer",
  "/charts": "viewer",
  "/reports": "viewer",
  "/letters": "viewer",
  "/dashboards": "viewer",
  "/pages": "viewer",
  "/pages/find-consignment": "viewer",
  "/queries/freight-by-shipper": "viewer",
  "/me": "viewer",
  "/tables": "analyst",
  "/tables/shipper": "analyst",
  "/links/consignment.shipper_id": "analyst",
  "/tables/shipper/folio?k=3": "analyst",
  "/queries/new?from=shipper": "analyst",
  "/queries/new?compare=shipper": "analyst",
  "/bin": "analyst",
  "/broken": "analyst",
  "/postings": "analyst",
  "/postings/agent-manifest": "analyst",
  "/schedules": "analyst",
  "/outbox": "analyst",
  "/people": "owner",
};

const spec = {
  version: 1,
  source: "shipper",
  joins: [],
  conditions: [],
  grouped: false,
  columns: [{ id: "n", value: { kind: "field", join: "", column: "name" } }],
  order: [],
  limit: null,
  parameters: [],
};

describe("every route by every role", () => {
  it("is named in the table above", () => {
    const found = (readdirSync("src/app/api", { recursive: true }) as string[]).filter((path) => path.endsWith("route.ts")).map((path) => dirname(path));
    expect(found.sort()).toEqual(Object.keys(ROUTES).sort());
  });
  it.each(Object.entries(ROUTES).flatMap(([route, methods]) => Object.entries(methods).map(([method, least]) => [method, route, least] as const)))(
    "%s %s: %s",
    async (method, route, least) => {
      const path = `/api/${route.replace(/\[\w+\]/, "none")}`;
      const init: RequestInit = { method, ...(method === "GET" ? {} : { body: "{}" }) };
      const nobody = await app.status(path, init, null);
      if (least === "open") return expect(method === "GET" ? [200, 404] : [400, 403]).toContain(nobody);
      expect(nobody).toBe(401);
      for (const role of RANK) {
        const status = await app.status(path, init, PEOPLE[role]);
        if (RANK.indexOf(role) < RANK.indexOf(least)) expect([role, status]).toEqual([role, 403]);
        else expect([200, 400, 404, 422], `${role}: ${status}`).toContain(status);
      }
    },
  );
  it.each(Object.entries(PAGES))("the page %s: %s", async (path, least) => {
    expect(await app.status(path, {}, null)).toBe(307);
    for (const role of RANK) expect([role, await app.status(path, {}, PEOPLE[role])]).toEqual([role, RANK.indexOf(role) < RANK.indexOf(least) ? 307 : 200]);
  });
});

describe("a viewer", () => {
  it("has nothing worked out but what is saved and shared with them", async () => {
    const chart = { ...(await (await app.fetch("/api/objects?kind=chart")).json())[0] } as { spec: { pivot: object } };
    const tile = {
      kind: "figure",
      id: "t",
      title: "",
      note: "",
      query: "freight-lodged",
      figure: { id: "n", value: null, figure: "count", showAs: "asIs" },
      compare: null,
      lessIsBetter: false,
    };
    const toShipper = { link: "consignment.shipper_id", toward: "b" };
    const dashboard = { version: 1, tiles: [tile], filters: [], wide: [], narrow: [], refresh: null };
    const onName = { id: "f", label: "name", table: "shipper", column: "name", meets: { t: { steps: [toShipper] } }, default: null };
    const own: [string, object][] = [
      ["/api/query/rows", { spec, values: {}, offset: 0, rows: 10 }],
      ["/api/query/footing", { spec, values: {} }],
      ["/api/query/proof", { spec, values: {} }],
      ["/api/dashboards/tile", { spec: dashboard, tile: "t", values: {} }],
      ["/api/dashboards/choices", { spec: { ...dashboard, filters: [onName] }, filter: "f" }],
      ["/api/dashboards/export", { spec: dashboard, values: {}, name: "x", format: "xlsx" }],
      ["/api/charts/export", { spec: chart.spec, values: {}, name: "x", format: "csv" }],
      ["/api/pivots/export", { spec: chart.spec.pivot, values: {}, name: "x", format: "csv" }],
      ["/api/pivots/recount", { spec: chart.spec.pivot, values: {} }],
    ];
    for (const [path, body] of own) {
      expect([path, await app.status(path, post(body), "demo-una")]).toEqual([path, 403]);
      expect([path, await app.status(path, post(body), "demo-analyst")]).toEqual([path, 200]);
    }
    const others: [string, object][] = [
      ["/api/dashboards/tile", { object: "freight-by-day", tile: "all", values: {} }],
      ["/api/dashboards/choices", { object: "morning-view", filter: "last_name" }],
      ["/api/dashboards/export", { object: "freight-lodged", values: {}, name: "x", format: "pdf" }],
      ["/api/letters/page", { object: "statement-of-account", at: 0 }],
      ["/api/report/pages", { object: "freight-lodged", from: 1, to: 1 }],
      ["/api/report/glance", { object: "freight-lodged" }],
      ["/api/dashboards/values", { dashboard: "freight-lodged", values: {} }],
    ];
    for (const [path, body] of others) expect([path, await app.status(path, post(body), "demo-jorn")]).toEqual([path, 404]);
    // Nor does a query of one's own read another's, which is not even named.
    const hidden = { ...emptyQuery("vessel"), columns: [{ id: "i", value: { kind: "field", join: "", column: "id" } }] };
    const made = await app.fetch("/api/objects", post({ kind: "query", name: "Nobody else’s", spec: hidden }), "demo-owner");
    const { id } = (await made.json()) as { id: string };
    const reading = { ...emptyQuery(queryTableName(id)), columns: [{ id: "i", value: { kind: "field", join: "", column: "i" } }] };
    const asked = post({ spec: reading, values: {}, offset: 0, rows: 5 });
    expect(await app.status("/api/query/rows", asked, "demo-owner")).toBe(200);
    expect(await app.status("/api/query/rows", asked, "demo-analyst")).not.toBe(200);
    expect(await app.status("/api/objects", post({ kind: "query", name: "x", spec: reading }), "demo-analyst")).not.toBe(200);
    expect(await (await app.fetch("/api/schema", {}, "demo-analyst")).text()).not.toContain(id);
    // Its values are no choices of theirs, nor can they keep any for it; who only looks reads no column at all.
    const choices = (table: string, column: string) => post({ table, column, values: {} });
    expect(await app.status("/api/query/choices", choices("shipper", "name"), "demo-analyst")).toBe(200);
    expect(await app.status("/api/query/choices", choices(queryTableName(id), "i"), "demo-owner")).toBe(200);
    expect(await app.status("/api/query/choices", choices(queryTableName(id), "i"), "demo-analyst")).not.toBe(200);
    expect(await app.status("/api/query/choices", choices("shipper", "name"), "demo-una")).toBe(403);
    expect(await app.status("/api/query/values", post({ query: id, values: {} }), "demo-analyst")).toBe(404);
    expect(await app.status("/api/query/values", post({ query: "freight-lodged", values: {} }), "demo-una")).toBe(403);
    expect(await app.status("/api/letters/page", post({ object: "statement-of-account", at: 0 }), "demo-una")).toBe(200);
    expect(await (await app.fetch("/api/objects?kind=query", {}, "demo-una")).json()).toEqual([]);
  });

  it("sees on a shared dashboard only the rows that the rules let through, and so behind its figures, in its report and its letters", async () => {
    const own = `c.lodged_on BETWEEN '2026-09-01' AND '2026-09-30' AND (c.status <> 'void' OR c.status IS NULL) AND s.desk_officer_id = 129`;
    const [count] = app.sql(`SELECT COUNT(*) FROM consignment c JOIN shipper s ON s.id = c.shipper_id WHERE ${own}`)[0] as [number];
    const ask = async (path: string, body: object) => (await app.fetch(path, post(body), "demo-una")).json();
    const figure = (await ask("/api/dashboards/tile", { object: "morning-view", tile: "waybills", values: {} })) as { now: number; pivot: object };
    expect(figure.now).toBe(count);
    const tile = { object: "morning-view", id: "waybills", values: {} };
    const footing = (await ask("/api/query/footing", { spec, values: {}, tile })) as { rows: number };
    expect(footing.rows).toBe(count);
    // A cell of a pivot that is not the tile's own is nobody's business.
    const cell = {
      pivot: {
        ...figure.pivot,
        down: [{ id: "x", value: { kind: "field", join: "", column: "shipper" }, order: { by: "name", direction: "up" }, subtotal: "before" }],
      },
      down: [],
      across: [],
    };
    expect((await app.fetch("/api/query/rows", post({ spec, values: {}, tile, cell, offset: 0, rows: 5 }), "demo-una")).status).not.toBe(200);
    // Nor is a field of their own making beside the tile, nor a row that its query leaves out.
    const draft = {
      version: 1,
      id: "d",
      label: "limit",
      table: "consignment",
      definition: { kind: "lookup", steps: [{ link: "consignment.shipper_id", toward: "b" }], column: "credit_limit" },
    };
    for (const more of [{ draft }, { pick: { part: "source" } }, { pick: { part: "leftOut", id: "c1" } }])
      for (const [path, window] of [
        ["rows", { offset: 0, rows: 5 }],
        ["footing", {}],
        ["proof", {}],
      ] as const) {
        const body = post({ spec, values: {}, tile, ...more, ...window });
        expect([path, await app.status(`/api/query/${path}`, body, "demo-una")]).toEqual([path, 403]);
      }
    const october = `c.lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND (c.status <> 'void' OR c.status IS NULL) AND s.desk_officer_id = 129`;
    const report = (await ask("/api/report/pages", { object: "freight-statement", from: 1, to: 1 })) as {
      outline: { proof: { rows: number } };
      proof: { agrees: boolean };
      pages: { items: { text?: string }[] }[];
    };
    expect(report.outline.proof.rows).toBe(app.sql(`SELECT COUNT(*) FROM consignment c JOIN shipper s ON s.id = c.shipper_id WHERE ${october}`)[0]?.[0]);
    expect(report.proof.agrees).toBe(true);
    expect(report.pages[0]?.items.map((i) => i.text ?? "").join(" ")).toContain("only rows that Una Holm can see");
    const letters = (await ask("/api/letters/page", { object: "statement-of-account", at: 0 })) as { count: number };
    expect(letters.count).toBe(app.sql("SELECT COUNT(*) FROM shipper WHERE desk_officer_id = 129")[0]?.[0]);
  });

  it("gets nothing more by a field that a route does not have, in what is asked or within it", async () => {
    const tile = { object: "morning-view", id: "waybills", values: {} };
    const asked = {
      fields: [{ operator: "contains", values: ["5"] }, { values: [] }, { values: ["delivered"] }],
      sort: { column: "waybill", direction: "up" },
    };
    const allowed: [string, Record<string, unknown>][] = [
      ["/api/dashboards/tile", { object: "morning-view", tile: "freight", values: {} }],
      ["/api/dashboards/choices", { object: "morning-view", filter: "island" }],
      ["/api/query/rows", { spec, values: {}, tile, offset: 0, rows: 5 }],
      ["/api/query/footing", { spec, values: {}, tile }],
      ["/api/query/proof", { spec, values: {}, tile }],
      ["/api/report/pages", { object: "freight-statement", from: 1, to: 1 }],
      ["/api/report/glance", { object: "freight-statement" }],
      ["/api/letters/page", { object: "statement-of-account", at: 0 }],
      ["/api/pages/find-consignment", { question: { ask: "search", asked, page: 1 } }],
    ];
    const field = { kind: "field", join: "", column: "credit_limit" };
    const extra: Record<string, unknown> = {
      draft: { version: 1, id: "d", label: "limit", table: "shipper", definition: { kind: "formula", text: "credit_limit" } },
      pick: { part: "leftOut", id: "c1" },
      cell: { pivot: { ...emptyPivot("freight-by-shipper"), down: [{ id: "x", value: field }] }, down: [], across: [] },
      spec: { ...spec, columns: [{ id: "n", value: field }] },
      query: "freight-by-shipper",
      object: "freight-lodged",
      key: [1],
      joins: [{ id: "j9", from: "", link: "consignment.shipper_id", toward: "b", way: "keep" }],
      columns: [{ id: "n", value: field }],
      conditions: [],
      rules: [],
      person: "demo-owner",
      role: "owner",
      signedIn: { id: "demo-owner", role: "owner" },
      knownAs: "130",
      today: "2020-01-01",
      database: "catalogue.sqlite",
      client: "demo-owner",
      inside: true,
      path: "/etc/passwd",
    };
    const answer = async (path: string, body: object) => {
      const got = await app.fetch(path, post(body), "demo-una");
      return { status: got.status, text: (await got.text()).replaceAll(/\d\d:\d\d/g, "") };
    };
    for (const [path, body] of allowed) {
      const plain = await answer(path, body);
      expect([path, plain.status]).toEqual([path, 200]);
      const within = Object.entries(body).filter(([, v]) => typeof v === "object" && v !== null && !Array.isArray(v));
      for (const [name, value] of Object.entries(extra).filter(([name]) => !(name in body)))
        for (const more of [{ ...body, [name]: value }, ...within.map(([at, v]) => ({ ...body, [at]: { [name]: value, ...(v as object) } }))]) {
          const got = await answer(path, more);
          if (got.status === 200) expect([path, name, got.text]).toEqual([path, name, plain.text]);
          else expect([400, 403, 404, 422], `${path} with ${name}: ${got.text}`).toContain(got.status);
        }
    }
  });

  it("gets no column that its query hides, and is whom a filter means by “my”", async () => {
    const pivot = emptyPivot("freight-by-shipper");
    const made = await app.fetch(
      "/api/objects",
      post({ kind: "pivot", name: "Hiding", spec: { ...pivot, figures: [{ id: "n", value: null, figure: "count", showAs: "asIs" }] } }),
      "demo-analyst",
    );
    const { id } = (await made.json()) as { id: string };
    await app.fetch(`/api/objects/${id}/shares`, { method: "PUT", body: JSON.stringify({ person: "", level: "see" }) }, "demo-analyst");
    const body = post({ spec, values: {}, tile: { object: id, id: "all", values: {} }, offset: 0, rows: 20 });
    const rows = (await (await app.fetch("/api/query/rows", body, "demo-una")).json()) as unknown[][];
    expect(rows).toHaveLength(20);
    // The query's sixth and seventh columns, trade and weight, are for its order and reports alone.
    expect(rows.every((row) => row[0] !== null && row[5] === null && row[6] === null && row[7] !== null)).toBe(true);

    const board = ((await (await app.fetch("/api/objects?kind=dashboard")).json()) as { id: string; spec: { filters: { id: string }[] } }[]).find(
      (o) => o.id === "morning-view",
    );
    const island = board?.spec.filters.find((f) => f.id === "island");
    const desk = { ...island, id: "desk", label: "desk", column: "desk_officer_id", default: { kind: "person" } };
    const named = post({ kind: "dashboard", name: "My desk", spec: { ...board?.spec, filters: [...(board?.spec.filters ?? []), desk] } });
    const mine = ((await (await app.fetch("/api/objects", named)).json()) as { id: string }).id;
    await app.fetch(`/api/objects/${mine}/shares`, { method: "PUT", body: JSON.stringify({ person: "", level: "see" }) });
    await app.fetch("/api/people/demo-analyst-2", { method: "PATCH", body: JSON.stringify({ knownAs: "130" }) });
    for (const [person, officer] of [
      ["demo-analyst-2", 130],
      ["demo-jorn", 132],
    ] as const) {
      const figure = (await (await app.fetch("/api/dashboards/tile", post({ object: mine, tile: "waybills", values: {} }), person)).json()) as { now: number };
      expect(figure.now).toBe(
        app.sql(`SELECT COUNT(*) FROM consignment c JOIN shipper s ON s.id = c.shipper_id WHERE c.lodged_on BETWEEN '2026-09-01' AND '2026-09-30'
          AND (c.status <> 'void' OR c.status IS NULL) AND s.desk_officer_id = ${officer}`)[0]?.[0],
      );
    }
  });

  it("is told what rows are called of which the keys stand in what it sees, and of no others", async () => {
    const [id, name] = app.one(
      "SELECT s.id, s.name FROM consignment c JOIN shipper s ON s.id = c.shipper_id WHERE s.desk_officer_id = 129 ORDER BY c.id LIMIT 1",
    );
    const other = app.one(`SELECT id FROM shipper WHERE id <> ${id} AND desk_officer_id = 129 LIMIT 1`)[0];
    const keyed = (hidden: boolean) => ({
      ...emptyQuery("consignment"),
      columns: [
        { id: "w", value: { kind: "field", join: "", column: "waybill_no" } },
        { id: "s", value: { kind: "field", join: "", column: "shipper_id" }, hidden },
      ],
      conditions: [{ id: "c", left: { kind: "field", join: "", column: "shipper_id" }, operator: "is", values: [{ kind: "value", text: String(id) }] }],
    });
    const made = async (kind: string, spec: object) =>
      ((await (await app.fetch("/api/objects?anyway", post({ kind, name: `named ${kind}`, spec }), "demo-analyst")).json()) as { id: string }).id;
    const told = async (hidden: boolean) => {
      const pivot = { ...emptyPivot(await made("query", keyed(hidden))), figures: [{ id: "n", value: null, figure: "count", showAs: "asIs" }] };
      const object = await made("pivot", pivot);
      await app.fetch(`/api/objects/${object}/shares`, { method: "PUT", body: JSON.stringify({ person: "", level: "see" }) }, "demo-analyst");
      const behind = { spec, values: {}, tile: { object, id: "all", values: {} } };
      return (await app.fetch("/api/query/names", post({ table: "shipper", keys: [String(id), String(other)], behind }), "demo-una")).json();
    };
    expect([await told(false), await told(true)]).toEqual([{ [String(id)]: name }, {}]);
    expect(await app.status("/api/query/names", post({ table: "shipper", keys: [String(id)] }), "demo-una")).toBe(403);
  });

  it("finds in the browser what is shared, opens the rows behind a figure, and has nothing to build with", async () => {
    const context = await app.browserOf("demo-una");
    const desk = await new Desk(await context.newPage(), app.address).open("/dashboards/morning-view");
    await desk.reads("[data-tile=waybills]", /Waybills \d+/);
    expect(await desk.text("nav[aria-label=Sections]")).toBe("Desk Queries Pivots Charts Reports Letters Dashboards Pages");
    expect(await desk.page.$$eval("button", (all) => all.map((b) => b.textContent))).not.toContain("Edit layout");
    await desk.press("[data-tile=waybills] button");
    await desk.reads("[role=status]", "Rows behind Waybills");
    await desk.page.waitForSelector("[role=gridcell]");
    await desk.open("/pivots/islands-and-quarters");
    await desk.page.waitForSelector("[role=gridcell]");
    await desk.open("/charts/freight-by-day");
    await desk.reads("main", "does not exist any more, or it is not shared with you");
    await desk.open("/letters/statement-of-account");
    await desk.reads("svg[data-page]", "Statement of account,");
    await desk.open("/me");
    await desk.reads("main", "A row rule limits the rows you see of");
    await context.close();
    expect(desk.complaints.filter((c) => !c.includes("404"))).toEqual([]);
  });
});

describe("objects, by whose they are and with whom they are shared", () => {
  const make = async (person: string): Promise<string> =>
    ((await (await app.fetch("/api/objects", post({ kind: "query", name: `of ${person}`, spec }), person)).json()) as { id: string }).id;
  const share = (id: string, person: string, level: string | null, by: string) =>
    app.status(`/api/objects/${id}/shares`, { method: "PUT", body: JSON.stringify({ person, level }) }, by);
  const tries = async (id: string, person: string) => {
    const open = !(await (await app.fetch(`/queries/${id}`, {}, person)).text()).includes("This query does not exist any more");
    const listed = ((await (await app.fetch("/api/objects", {}, person)).json()) as { id: string }[]).some((o) => o.id === id);
    const revision = Number(
      ((await (await app.fetch("/api/objects?kind=query")).json()) as { id: string; revision: number }[]).find((o) => o.id === id)?.revision,
    );
    const save = await app.status(`/api/objects/${id}`, { method: "PATCH", body: JSON.stringify({ spec, revision }) }, person);
    const from = await app.status("/api/pivots/new", post({ query: id }), person);
    return { open, listed, save, from };
  };
  it("are open to their maker and to owners; to others as far as they are shared", async () => {
    const id = await make("demo-analyst");
    const nothing = { open: false, listed: false, save: 404, from: 422 };
    const all = { open: true, listed: true, save: 200, from: 200 };
    expect(await tries(id, "demo-analyst")).toEqual(all);
    expect(await tries(id, "demo-owner")).toEqual(all);
    expect(await tries(id, "demo-analyst-2")).toEqual(nothing);
    expect(await share(id, "demo-analyst-2", "see", "demo-analyst-2")).toBe(404);
    expect(await share(id, "demo-analyst-2", "see", "demo-analyst")).toBe(200);
    expect(await tries(id, "demo-analyst-2")).toEqual({ ...all, save: 403 });
    expect(await share(id, "demo-una", "see", "demo-analyst-2")).toBe(403);
    expect(await app.status(`/api/objects/${id}`, { method: "DELETE" }, "demo-analyst-2")).toBe(403);
    expect(await share(id, "demo-analyst-2", "edit", "demo-analyst")).toBe(200);
    expect(await tries(id, "demo-analyst-2")).toEqual(all);
    expect(await share(id, "demo-analyst-2", null, "demo-analyst")).toBe(200);
    expect(await tries(id, "demo-analyst-2")).toEqual(nothing);
    expect(await share(id, "", "see", "demo-analyst")).toBe(200);
    expect(await tries(id, "demo-analyst-2")).toEqual({ ...all, save: 403 });
    // Others have made something from it by now: it is not deleted without a word.
    expect(await app.status(`/api/objects/${id}`, { method: "DELETE" }, "demo-analyst")).toBe(409);
    expect(await app.status(`/api/objects/${id}?anyway`, { method: "DELETE" }, "demo-analyst")).toBe(200);
  });
  it("of every kind are nobody's but their maker's and the owners' until they are shared", async () => {
    type Saved = { id: string; name: string; spec: object };
    const others = ["demo-analyst-2", "demo-una"];
    // Postings, links, derived fields and folios belong to all who build.
    const kinds = ["query", "pivot", "chart", "dashboard", "report", "letter", "page", "schedule"];
    for (const kind of kinds) {
      const [one] = (await (await app.fetch(`/api/objects?kind=${kind}`)).json()) as Saved[];
      const made = await app.fetch("/api/objects", post({ kind, name: `Private ${kind}`, spec: one?.spec ?? {} }), "demo-analyst");
      const { id, revision } = (await made.json()) as { id: string; revision: number };
      expect([kind, made.status]).toEqual([kind, 200]);
      const patch = { method: "PATCH", body: JSON.stringify({ name: "Taken", revision }) };
      const shared = { method: "PUT", body: JSON.stringify({ person: "demo-una", level: "edit" }) };
      for (const person of others) {
        const seen = person === "demo-una" ? 403 : 404;
        expect([kind, person, await app.status(`/api/objects/${id}`, patch, person)]).toEqual([kind, person, seen]);
        // What is not there for them is deleted already; it stands for the others.
        expect([kind, person, await app.status(`/api/objects/${id}?anyway`, { method: "DELETE" }, person)]).toEqual([
          kind,
          person,
          person === "demo-una" ? 403 : 200,
        ]);
        expect([kind, person, await app.status(`/api/objects/${id}/shares`, shared, person)]).toEqual([kind, person, seen]);
        const listed = (await (await app.fetch(`/api/objects?kind=${kind}`, {}, person)).json()) as Saved[];
        expect([kind, person, listed.some((o) => o.id === id)]).toEqual([kind, person, false]);
      }
      const uses: [string, object][] = [
        ["/api/dashboards/tile", { object: id, tile: "all", values: {} }],
        ["/api/dashboards/export", { object: id, values: {}, name: "x", format: "pdf" }],
        ["/api/report/pages", { object: id, from: 1, to: 1 }],
        ["/api/report/export", { object: id, name: "x", format: "pdf" }],
        ["/api/letters/page", { object: id, at: 0 }],
        [`/api/pages/${id}`, { question: { ask: "about" } }],
        ["/api/query/footing", { spec, values: {}, tile: { object: id, id: "all", values: {} } }],
        ["/api/dashboards/values", { dashboard: id, values: {} }],
      ];
      for (const [path, body] of uses)
        for (const person of others) expect([kind, path, person, (await app.status(path, post(body), person)) >= 400]).toEqual([kind, path, person, true]);
      expect([kind, await app.status(`/api/objects/${id}`, patch, "demo-owner")]).toEqual([kind, 200]);
      expect([kind, await app.status(`/api/objects/${id}?anyway`, { method: "DELETE" }, "demo-analyst")]).toEqual([kind, 200]);
    }
  });
  it("cannot be reached by naming them in something of one's own", async () => {
    const id = await make("demo-analyst");
    const pivot = {
      version: 1,
      query: id,
      down: [],
      across: [],
      figures: [{ id: "n", value: null, figure: "count", showAs: "asIs" }],
      conditions: [],
      asked: [],
      parameters: {},
    };
    const made = await app.fetch("/api/objects", post({ kind: "pivot", name: "mine", spec: pivot }), "demo-analyst-2");
    expect(made.status).not.toBe(200);
    expect(await app.status("/api/letters/new", post({ query: id }), "demo-analyst-2")).toBe(422);
    expect(await app.status("/api/schedules/freight-statement-daily/run", { method: "POST" }, "demo-analyst-2")).toBe(404);
  });
  it("of the owner's keeping, rules on rows, are made and changed by owners alone", async () => {
    const rule = { version: 1, who: { kind: "role", role: "viewer" }, query: { ...spec, columns: [] } };
    expect(await app.status("/api/objects", post({ kind: "rule", name: "r", spec: rule }), "demo-analyst")).toBe(403);
    expect(await app.status("/api/objects/own-shippers", { method: "PATCH", body: JSON.stringify({ spec: rule, revision: 1 }) }, "demo-analyst")).toBe(404);
    await app.fetch("/api/objects/own-shippers", { method: "DELETE" }, "demo-analyst");
    expect(((await (await app.fetch("/api/objects?kind=rule")).json()) as object[]).length).toBe(3);
  });
  it("that work on whole tables are refused to who sees some of their rows", async () => {
    const rule = {
      version: 1,
      who: { kind: "person", person: "demo-analyst-2" },
      query: {
        ...spec,
        columns: [],
        conditions: [{ id: "w", left: { kind: "field", join: "", column: "trade" }, operator: "is", values: [{ kind: "value", text: "Fish" }] }],
      },
    };
    const { id } = (await (await app.fetch("/api/objects", post({ kind: "rule", name: "fish", spec: rule }))).json()) as { id: string };
    const edit = { kind: "change", key: [1], column: "trade", text: "Fish", was: "Building" };
    const asked: [string, object][] = [
      ["/api/tables/edit", { table: "shipper", change: edit }],
      ["/api/tables/history", { table: "shipper", key: ["1"] }],
      ["/api/tables/shape/survey", { spec: { version: 1, table: "shipper", name: "shipper", columns: [] } }],
      ["/api/tables/shape/change", { spec: { version: 1, table: null, name: "own", columns: [] }, digest: "" }],
      ["/api/tables/drop", { table: "shipper" }],
      ["/api/tables/duplicates", { table: "shipper", columns: ["name"], near: false }],
      ["/api/tables/merge/preview", { table: "shipper", groups: [{ keep: ["1"], others: [["2"]] }], fill: true }],
      ["/api/tables/merge", { table: "shipper", groups: [{ keep: ["1"], others: [["2"]] }], fill: true, digest: "" }],
      ["/api/tables/uses", { table: "shipper" }],
      ["/api/query/table", { spec: emptyQuery("shipper"), values: {}, name: "own", from: "x" }],
      ["/api/links/suggest", { table: null }],
      ["/api/tables/column", { table: "shipper", column: "trade", set: { label: "x" } }],
      ["/api/tables/named", { table: "shipper", column: "trade" }],
      ["/api/objects", { kind: "derived", name: "x", spec: { version: 1, table: "shipper", definition: { kind: "formula", text: "'Fish'" } } }],
    ];
    for (const [path, body] of asked) expect([path, await app.status(path, post(body), "demo-analyst-2")]).toEqual([path, 403]);
    expect(await app.status("/api/objects/shipper-balance", { method: "DELETE" }, "demo-analyst-2")).toBe(403);
    const rows = (await (await app.fetch("/api/query/rows", post({ spec, values: {}, offset: 0, rows: 100 }), "demo-analyst-2")).json()) as string[][];
    expect(rows.flat().sort()).toEqual((app.sql("SELECT name FROM shipper WHERE trade = 'Fish'") as string[][]).flat().sort());
    // Nor are rows that they do not see told by their names: shipper 1 is in building.
    const told = await app.fetch("/api/query/names", post({ table: "shipper", keys: ["1"] }), "demo-analyst-2");
    expect([await told.json(), await (await app.fetch("/api/query/names", post({ table: "shipper", keys: ["1"] }))).json()]).toEqual([
      {},
      { 1: app.one("SELECT name FROM shipper WHERE id = 1")[0] },
    ]);
    // What is worked out as another is not theirs to change, though it is shared with them: it would show them the other's rows.
    type Saved = { id: string; spec: unknown; revision: number };
    const page = ((await (await app.fetch("/api/objects?kind=page")).json()) as Saved[]).find((o) => o.id === "find-consignment");
    await app.fetch("/api/objects/find-consignment/shares", { method: "PUT", body: JSON.stringify({ person: "demo-analyst-2", level: "edit" }) });
    const change = (person: string, revision: number) =>
      app.status("/api/objects/find-consignment", { method: "PATCH", body: JSON.stringify({ spec: page?.spec, revision }) }, person);
    expect(await change("demo-analyst-2", page?.revision ?? 0)).toBe(403);
    const query = ((await (await app.fetch("/api/objects?kind=query")).json()) as Saved[]).find((o) => o.id === "freight-lodged");
    await app.fetch("/api/objects/freight-lodged/shares", { method: "PUT", body: JSON.stringify({ person: "demo-analyst-2", level: "edit" }) });
    const source = { method: "PATCH", body: JSON.stringify({ spec: query?.spec, revision: query?.revision }) };
    expect(await app.status("/api/objects/freight-lodged", source, "demo-analyst-2"), "the page is made from it").toBe(403);
    expect(await app.status(`/api/objects/${id}`, { method: "DELETE" }, "demo-owner")).toBe(200);
    expect(await change("demo-analyst-2", page?.revision ?? 0)).toBe(200);
    const log = await (await app.fetch("/people")).text();
    for (const done of ["added a row rule", "removed a row rule"]) expect(log).toContain(done);
  });
});
