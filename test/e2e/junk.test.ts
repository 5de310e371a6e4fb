import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { seeded } from "../../demo/random";
import { type Application, openApplication, post } from "../support/server";

/*
 * What the pages send, with one part of it replaced or left out, as nobody's page would send it: it is answered, or
 * refused in a sentence; the server never fails.
 */

let app: Application;
let bodies: Record<string, object[]>;
beforeAll(async () => {
  app = await openApplication();
  const saved = async (kind: string) => (await (await app.fetch(`/api/objects?kind=${kind}`)).json()) as { id: string; spec: Record<string, unknown> }[];
  const [queries, pivots, charts, dashboards, reports, letters, pages, postings] = await Promise.all(
    ["query", "pivot", "chart", "dashboard", "report", "letter", "page", "posting"].map(saved),
  );
  const { address } = (await (await app.fetch("/api/pages/find-consignment/publish")).json()) as { address: string };
  const asked = { fields: [{ operator: "contains", values: ["5"] }, { values: [] }, { values: ["delivered"] }], sort: { column: "waybill", direction: "up" } };
  const questions = [
    { ask: "search", asked, page: 1 },
    { ask: "details", asked, at: 3 },
    { ask: "choices", field: "1" },
  ];
  const specs = (list: typeof queries = []) => list.map((o) => o.spec);
  bodies = {
    "/api/query/rows": specs(queries).map((spec) => ({ spec, values: {}, offset: 0, rows: 20 })),
    "/api/query/footing": specs(queries).map((spec) => ({ spec, values: {} })),
    "/api/query/proof": specs(queries).map((spec) => ({ spec, values: {} })),
    "/api/pivots": specs(pivots).map((spec) => ({ spec, values: {} })),
    "/api/charts": specs(charts).map((spec) => ({ spec, values: {} })),
    "/api/dashboards/tile": specs(dashboards).map((spec) => ({ spec, tile: "freight", values: { island: { kind: "set", not: false, values: ["Pell"] } } })),
    "/api/dashboards/choices": specs(dashboards).map((spec) => ({ spec, filter: "island" })),
    "/api/report/pages": specs(reports).map((spec) => ({ spec, from: 1, to: 2 })),
    "/api/letters/page": specs(letters).map((spec) => ({ spec, at: 1 })),
    "/api/pages/draft": specs(pages).flatMap((spec) => questions.map((question) => ({ spec, question }))),
    "/api/postings/preview": specs(postings).map((spec) => ({ spec })),
    "/api/links/evidence": [
      {
        spec: {
          version: 1,
          a: { table: "consignment", columns: ["shipper_id"], name: "consignments" },
          b: { table: "shipper", columns: ["id"], name: "shipper" },
          operators: ["is"],
        },
      },
    ],
    [`/api/p/${address}`]: questions.map((question) => ({ question })),
  };
});
afterAll(() => app?.close());

const JUNK = [
  null,
  "",
  "x".repeat(5000),
  -1,
  0,
  1e308,
  0.5,
  [],
  {},
  true,
  "__proto__",
  "'; DROP TABLE shipper; --",
  '"',
  "\u0000",
  [null],
  "2026-13-45",
  "9".repeat(40),
  "today:never",
  "SUM(1) OVER (",
];
type Json = Record<string, unknown>;
const children = (value: unknown): [string, unknown][] => (value !== null && typeof value === "object" ? Object.entries(value) : []);
/** All places in a value, as paths. */
const places = (value: unknown, path: string[] = []): string[][] => [path, ...children(value).flatMap(([key, v]) => places(v, [...path, key]))];
const gone = Symbol("gone");
function changed(value: unknown, [key, ...rest]: string[], junk: unknown): unknown {
  if (key === undefined) return junk;
  const copy = (Array.isArray(value) ? [...value] : { ...(value as Json) }) as Json;
  if (rest.length === 0 && junk === gone) delete copy[key];
  else copy[key] = changed(copy[key], rest, junk);
  return copy;
}

describe("what no page would send", () => {
  it("is refused in a sentence or answered, on every route that works something out", async () => {
    const { pick, chance } = seeded(20261124);
    const answers: Record<number, number> = {};
    for (const [path, list] of Object.entries(bodies)) {
      expect([path, list.length]).not.toEqual([path, 0]);
      for (const body of list) expect([path, (await app.fetch(path, post(body))).status]).toEqual([path, 200]);
      for (let i = 0; i < 45; i++) {
        const body = pick(list);
        const place = pick(places(body));
        const junk = chance(0.15) && place.length > 0 ? gone : pick(JUNK);
        const answer = await app.fetch(path, post(changed(body, place, junk) as object));
        const said = await answer.text();
        const what = `${path} with ${String(junk === gone ? "nothing" : JSON.stringify(junk)).slice(0, 60)} at ${place.join(".")}: ${answer.status} ${said.slice(0, 300)}`;
        expect([200, 400, 403, 404, 422], what).toContain(answer.status);
        if (answer.status !== 200) expect((JSON.parse(said) as { error: { sentence: string } }).error.sentence.length, what).toBeGreaterThan(10);
        answers[answer.status] = (answers[answer.status] ?? 0) + 1;
      }
    }
    for (const [sent, status, words] of [
      [`{"spec": "${"x".repeat(9_000_000)}"}`, 413, "larger than 8 MB"],
      [`{"spec": ${"[".repeat(100_000)}${"]".repeat(100_000)}}`, 400, "more than 60 levels deep"],
    ] as const) {
      const answer = await app.fetch("/api/query/rows", { method: "POST", body: sent });
      expect([answer.status, await answer.text()]).toEqual([status, expect.stringContaining(words)]);
    }
    // Some of it does reach what works things out.
    expect((answers[200] ?? 0) + (answers[422] ?? 0)).toBeGreaterThan(40);
    expect(app.sql("SELECT COUNT(*) FROM shipper")[0]?.[0]).toBeGreaterThan(30);
  });
});
