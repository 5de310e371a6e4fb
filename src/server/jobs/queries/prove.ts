import type Database from "better-sqlite3";
import { accountOf } from "@/core/proof/account";
import { holdLines } from "@/core/proof/lines";
import { type Proof, prove, sheetSql } from "@/core/proof/proof";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { compileSheet } from "@/core/query/subtotals";
import { inSnapshot, readRows, readSingle } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";

/** Proves a query in the engine's process: the account of its rows and the sheet's own figures, both of one moment. */
export function proveQuery(db: Database.Database, plan: Plan, figure: string | null): Proof {
  const followed = plan.columns.find((c) => c.id === figure) ?? null;
  const sql = sheetSql(plan, sqlite);
  return inSnapshot(db, () => {
    const account = accountOf(plan, followed, tableReader(db));
    const lines = holdLines(plan, account.groups ?? account.accounted.rows, (whole) => readRows(db, compileSheet(whole, sqlite)), tableReader(db));
    const sheet = { rows: readSingle(db, sql.rows), footing: readSingle(db, sql.footing), lines };
    return prove(plan, followed, account, sql.footing, sheet);
  });
}
