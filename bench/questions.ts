import Database from "better-sqlite3";
import { accountOf } from "../src/core/proof/account";
import { proofColumn } from "../src/core/proof/followed";
import { compileRows } from "../src/core/query/compile";
import { sqlite } from "../src/core/query/dialect/sqlite";
import { emptyQuery } from "../src/core/query/empty";
import type { Plan } from "../src/core/query/plan";
import type { ComparedJoin, QuerySpec } from "../src/core/query/spec";
import type { Workspace } from "../src/server/services/workspace/workspace";
import { tableReader } from "../src/server/source/sqlite/tables";
import { median, ms, report, timed } from "./measure";

/* What a query can ask, beside the same SQL written by hand on the same driver: compiling, windows, rows put together, and its proof. */

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });

const joinOf = (n: number): ComparedJoin => ({
  id: `j${n}`,
  from: "",
  table: "shop",
  way: "keep",
  on: [{ id: `w${n}`, left: field("id", `j${n}`), operator: "is", values: [field("shop_id")] }],
});
const tenJoins: QuerySpec = {
  ...emptyQuery("sale"),
  joins: Array.from({ length: 10 }, (_, n) => joinOf(n)),
  columns: [{ id: "a", value: field("amount") }, ...Array.from({ length: 10 }, (_, n) => ({ id: `n${n}`, value: field("name", `j${n}`) }))],
};
const running: QuerySpec = {
  ...emptyQuery("sale"),
  grouped: true,
  columns: [
    { id: "d", value: field("day") },
    { id: "t", value: field("amount"), figure: "total" },
    { id: "r", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "running", by: "d" } },
    { id: "s", value: { kind: "column", id: "t" }, figure: "window", window: { kind: "rank" } },
  ],
};
const stacked: QuerySpec = {
  ...emptyQuery("sale"),
  stack: { how: "all", parts: ["sale"] },
  grouped: true,
  columns: [
    { id: "i", value: field("item") },
    { id: "t", value: field("amount"), figure: "total" },
  ],
};
const WINDOWS_BY_HAND = `SELECT d, t, SUM(t) OVER (ORDER BY d ROWS BETWEEN UNBOUNDED PRECEDING AND CURRENT ROW), RANK() OVER (ORDER BY t DESC)
  FROM (SELECT day AS d, SUM(amount) AS t FROM sale GROUP BY day) ORDER BY d`;
const STACK_BY_HAND = "SELECT item, SUM(amount) FROM (SELECT item, amount FROM sale UNION ALL SELECT item, amount FROM sale) GROUP BY item ORDER BY item";

/** @param planOf resolves on the bench's schema */
export async function measureQuestions(ws: Workspace, database: string, planOf: (spec: QuerySpec) => Plan): Promise<void> {
  const compiled: number[] = [];
  for (let i = 0; i < 50; i++) compiled.push(await timed(() => compileRows(planOf(tenJoins), sqlite)));
  report("Ten joins: resolved and compiled", ms(median(compiled)), "5 ms");
  const hand = new Database(database, { readonly: true });
  for (const [what, spec, sql] of [
    ["Running total and rank over groups", running, WINDOWS_BY_HAND],
    ["Rows of two sources put together and grouped", stacked, STACK_BY_HAND],
  ] as const) {
    const job = { kind: "rows" as const, database, statement: { of: "rows" as const, plan: planOf(spec) } };
    const statement = hand.prepare(sql).raw();
    const [engine, own]: [number[], number[]] = [[], []];
    for (let i = 0; i < 5; i++) {
      own.push(await timed(() => statement.all()));
      engine.push(await timed(() => ws.engine.run<"rows">(job, { client: "bench" })));
    }
    report(`${what}: engine ÷ the same SQL by hand`, `${(median(engine.slice(1)) / median(own.slice(1))).toFixed(2)}× (${ms(median(engine))})`, "1.15×");
  }
  const asked: QuerySpec = { ...tenJoins, joins: tenJoins.joins.slice(0, 3), columns: tenJoins.columns.slice(0, 4) };
  const plan = planOf(asked);
  const query = await timed(() => ws.engine.run<"rows">({ kind: "rows", database, statement: { of: "rows", plan } }, { client: "bench" }));
  const proof = await timed(() => accountOf(plan, proofColumn(plan), tableReader(hand)));
  report("Account of a query of three joins ÷ its rows read whole", `${(proof / query).toFixed(2)}× (${ms(proof)})`, "3×");
  hand.close();
}
