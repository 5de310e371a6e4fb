import { z } from "zod";
import { type Pair, pairCandidates, pairCounts, tablesOfJoin } from "@/core/query/proposePairs";
import { resolveQuery } from "@/core/query/resolve";
import { parameterValuesSchema, querySpecSchema } from "@/core/query/spec";
import type { Workspace } from "@/server/services/workspace/workspace";
import { rowsOfPlan } from "./service";

export const pairsSchema = z.object({ spec: querySpecSchema, join: z.string().max(60), values: parameterValuesSchema });

/** What comparing two columns comes to: pairs of rows, and the part of each table's rows that find one. */
export type ComparedPair = Pair & { pairs: number; share: number; farShare: number };

/** The least share of either table's rows that find one for a comparison to be offered. */
const LEAST_SHARE = 0.2;

/** How long the data are asked; the likeliest pairs come first. */
const LONGEST_MS = 3000;

/** The comparisons that names and the data speak for, of a table that is joined by them; those by which most rows of one side find one first. */
export async function pairsToCompare(
  ws: Workspace,
  { spec, join, values }: z.infer<typeof pairsSchema>,
  caller: { client: string; signal?: AbortSignal | undefined },
): Promise<ComparedPair[]> {
  const schema = await ws.schema();
  const tables = tablesOfJoin(spec, schema, join);
  if (!tables) return [];
  const names = { near: tables.near.name, far: tables.far.name };
  const counted: ComparedPair[] = [];
  const until = Date.now() + LONGEST_MS;
  for (const pair of pairCandidates(tables.near, tables.far)) {
    if (Date.now() > until) break;
    const made = pairCounts(names, pair, schema, ws.today);
    const resolved = resolveQuery(made.spec, made.schema, { today: ws.today, values, person: ws.knownAs });
    if (!resolved.ok) continue;
    const [row = []] = await rowsOfPlan(ws, resolved.value, { offset: 0, rows: 1 }, caller);
    const [pairs = 0, found = 0, rows = 0, farFound = 0, farRows = 0] = row.map((cell) => Number(cell ?? 0));
    const [share, farShare] = [rows > 0 ? found / rows : 0, farRows > 0 ? farFound / farRows : 0];
    if (Math.max(share, farShare) >= LEAST_SHARE) counted.push({ ...pair, pairs, share, farShare });
  }
  // What finds as many with fewer pairs tells rows apart better.
  return counted.sort((a, b) => Math.max(b.share, b.farShare) - Math.max(a.share, a.farShare) || a.pairs - b.pairs);
}
