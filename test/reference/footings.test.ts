import { join } from "node:path";
import { expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import { firstReport, newLevel } from "@/core/report/plan";
import { planOf } from "@/server/services/queries/service";
import { checkFootings, reportJob } from "@/server/services/reports/service";
import { makeDatabase, openLedger, temporaryFolder } from "../support/ledger";

/* What a report prints against the footing of its query, which is read apart from it. */

it("says no where rows, a grand footing or what groups come to differ from the query, and tells of related rows in no table", async () => {
  const place = temporaryFolder();
  const database = makeDatabase(
    join(place.folder, "b.sqlite"),
    `CREATE TABLE place (id INTEGER PRIMARY KEY, name TEXT);
     INSERT INTO place (name) VALUES ('Mirrin'), ('Pell'), ('Skarrow');
     CREATE TABLE sale (id INTEGER PRIMARY KEY, place_id INTEGER REFERENCES place(id), amount DECIMAL(9,2));
     INSERT INTO sale (place_id, amount) VALUES (1, 1.50), (1, 2.25), (2, 3.00), (2, 4.75), (2, 0.10);
     CREATE TABLE note (id INTEGER PRIMARY KEY, place_id INTEGER REFERENCES place(id), words TEXT);
     INSERT INTO note (place_id, words) VALUES (1, 'a'), (1, 'b'), (3, 'in no table');`,
  );
  const ws = openLedger(place.folder, database);
  const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
  const query: QuerySpec = {
    ...emptyQuery("sale"),
    joins: [{ id: "p", from: "", link: "sale.place_id", toward: "b", way: "keep" }],
    columns: [
      { id: "place", value: field("name", "p") },
      { id: "amount", value: field("amount") },
    ],
  };
  const plain = firstReport("", "Sales", await planOf(ws, query, {}));
  const notes = {
    id: "n",
    title: "Notes",
    under: "place",
    of: "p",
    match: { kind: "link" as const, step: { link: "note.place_id", toward: "a" as const } },
    hideEmpty: true,
    query: { ...emptyQuery("note"), columns: [{ id: "w", value: field("words") }] },
  };
  const job = await reportJob(ws, { ...plain, own: query, levels: [newLevel("place")], related: [notes] });
  const caller = { client: "test" };
  const { outline } = await ws.engine.run<"reportPages">({ kind: "reportPages", database, report: job, from: 1, to: 1 }, caller);
  const { proof } = outline;
  const check = (change: Partial<typeof proof>) => checkFootings(ws, job, { ...proof, ...change }, caller);

  const checked = await check({});
  const [amount] = Object.keys(proof.totals);
  expect(checked).toMatchObject({
    agrees: true,
    rows: { printed: 5, query: 5 },
    columns: [{ column: amount, printed: 1160, groups: "1160", query: 1160, agrees: true }],
    related: [{ title: "Notes", printed: 2, tables: 1, all: 3, cut: false }],
  });
  const totals = (printed: string, groups: string) => ({ totals: { [amount ?? ""]: { printed, groups, overlaps: null } } });
  for (const change of [{ rows: 4 }, totals("1161", "1161"), totals("1160", "1159"), { agrees: false }]) expect((await check(change)).agrees).toBe(false);
  ws.close();
  place.remove();
});
