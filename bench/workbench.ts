import Database from "better-sqlite3";
import { ROWS_COMPARED } from "../src/core/query/comparison";
import { emptyQuery } from "../src/core/query/empty";
import { numbered, planFind } from "../src/core/query/findRows";
import type { Plan } from "../src/core/query/plan";
import { planFigures, planFrequent } from "../src/core/query/profile";
import type { QuerySpec } from "../src/core/query/spec";
import { usualDay } from "../src/core/types/calendar";
import type { Checked } from "../src/core/types/problem";
import type { Workspace } from "../src/server/services/workspace/workspace";
import { median, ms, report, timed } from "./measure";

/* What the sheet of a query answers of its 1,000,000 rows: the profile of a column, finding, and two lists compared. */

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const context = { today: usualDay("2026-11-23"), values: {} };
const sheet: QuerySpec = { ...emptyQuery("sale"), columns: ["id", "day", "item", "amount"].map((c) => ({ id: c, value: field(c) })) };
const compared: QuerySpec = {
  ...emptyQuery(ROWS_COMPARED),
  compare: { here: "sale", there: "sale", key: [{ here: "id", there: "id" }], fields: [{ here: "amount", there: "amount" }], tolerance: "0" },
  grouped: true,
  columns: [
    { id: "s", value: field("state") },
    { id: "n", value: null, figure: "count" },
    { id: "h", value: field("here 0"), figure: "total" },
  ],
};
/** The same by a full outer join of two indexed tables, as one would write it. */
const BY_HAND = [
  "CREATE TEMP TABLE h AS SELECT id AS k, COUNT(*) AS n, SUM(amount) AS f FROM sale GROUP BY id",
  "CREATE TEMP TABLE t AS SELECT id AS k, COUNT(*) AS n, SUM(amount) AS f FROM sale GROUP BY id",
  "CREATE INDEX hk ON h (k)",
  "CREATE INDEX tk ON t (k)",
];
const JOIN_BY_HAND = `SELECT CASE WHEN h.n > 1 OR t.n > 1 THEN 'doubled' WHEN h.n IS NULL THEN 'only there' WHEN t.n IS NULL THEN 'only here' WHEN h.f IS NOT t.f THEN 'different' ELSE 'the same' END AS s,
  COUNT(*), SUM(h.f) FROM h FULL JOIN t ON t.k = h.k GROUP BY 1`;

const known = <T>(checked: Checked<T> | null): T => {
  if (!checked?.ok) throw new Error(JSON.stringify(checked));
  return checked.value;
};

/** @param planOf resolves on the bench's schema */
export async function measureWorkbench(ws: Workspace, database: string, planOf: (spec: QuerySpec) => Plan): Promise<void> {
  const rows = (plan: Plan, most = 100) =>
    ws.engine.run<"rows">({ kind: "rows", database, statement: { of: "rows", plan, window: { offset: 0, rows: most } } }, { client: "bench" });
  const often = async (work: () => Promise<unknown>): Promise<number> => {
    const times: number[] = [];
    for (let i = 0; i < 3; i++) times.push(await timed(work));
    return median(times);
  };
  const plan = planOf(sheet);
  for (const column of ["item", "amount"]) {
    const asked = [known(planFigures(plan, column, context)), known(planFrequent(plan, column, context))];
    report(`Profile of “${column}” over 1,000,000 rows`, ms(await often(() => Promise.all(asked.map((p) => rows(p))))), "300 ms");
  }
  const found = known(planFind(planOf(numbered(sheet)), { text: "item 42", typed: () => null }, 1, false, context));
  report("Finding in 1,000,000 rows, the first hit", ms(await often(() => rows(found.next, 1))), "500 ms");
  const engine = await often(() => rows(planOf(compared)));
  const hand = new Database(database, { readonly: true });
  const own = await often(async () => {
    for (const name of ["h", "t"]) hand.exec(`DROP TABLE IF EXISTS temp.${name}`);
    for (const sql of BY_HAND) hand.exec(sql);
    hand.prepare(JOIN_BY_HAND).all();
  });
  hand.close();
  report("Two lists of 1,000,000 rows compared ÷ a full outer join by hand", `${(engine / own).toFixed(2)}× (${ms(engine)})`, "1.3×");
}
