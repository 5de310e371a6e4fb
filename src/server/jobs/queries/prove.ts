import { accountOf } from "@/core/proof/account";
import { holdingLines } from "@/core/proof/lines";
import { type Proof, prove, sheetPlans } from "@/core/proof/proof";
import { type Asking, answered, asked } from "@/core/query/asking";
import { sqlite } from "@/core/query/dialect/sqlite";
import { compileFooting } from "@/core/query/footing";
import type { Plan } from "@/core/query/plan";
import type { ReadTable } from "@/core/recount/recount";
import type { Reading } from "@/server/source/reading";

/**
 * Proves a query: the account of its rows, counted from the tables themselves, and the sheet's own figures, which it asks
 * for. Both are of one moment, which the caller sees to.
 */
export function* provingQuery(plan: Plan, figure: string | null, tables: ReadTable): Asking<Proof> {
  const followed = plan.columns.find((c) => c.id === figure) ?? null;
  const sheet = sheetPlans(plan);
  const account = accountOf(plan, followed, tables);
  const lines = yield* holdingLines(plan, account.groups ?? account.accounted.rows, tables);
  const [rows = []] = yield* asked({ of: "footing", plan: sheet.rows });
  const [footing = []] = yield* asked({ of: "footing", plan: sheet.footing });
  // What stands where in a footing is the same in every dialect.
  return prove(plan, followed, account, compileFooting(sheet.footing, sqlite), { rows, footing, lines });
}

/** The same of a database alone. */
export const proveQuery = (reading: Reading, plan: Plan, figure: string | null): Proof => answered(provingQuery(plan, figure, reading.tables), reading.ask);
