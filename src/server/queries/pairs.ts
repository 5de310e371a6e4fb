import { z } from "zod";
import { type Pair, pairCandidates, pairCounts, tablesOfJoin } from "@/core/query/proposePairs";
import { resolveQuery } from "@/core/query/resolve";
import { parameterValuesSchema, querySpecSchema } from "@/core/query/spec";
import type { Workspace } from "@/server/workspace/workspace";
import { rowsOfPlan } from "./service";

export const pairsSchema = z.object({ spec: querySpecSchema, join: z.string().max(60), values: parameterValuesSchema });

/** What comparing two columns comes to: pairs of rows, and of how many rows how many find one. */
export type ComparedPair = Pair & { pairs: number; found: number; rows: number };

/** The least share of rows that find one for a comparison to be offered. */
const LEAST_SHARE = 0.05;

/** The comparisons that names and the data speak for, of a table that is joined by them; those by which most rows find one first. */
export async function pairsToCompare(
  ws: Workspace,
  { spec, join, values }: z.infer<typeof pairsSchema>,
  caller: { client: string; signal?: AbortSignal | undefined },
): Promise<ComparedPair[]> {
  const schema = await ws.schema();
  const tables = tablesOfJoin(spec, schema, join);
  if (!tables) return [];
  const names = { near: tables.near.name, far: tables.far.name };
  const counted = await Promise.all(
    pairCandidates(tables.near, tables.far).map(async (pair): Promise<ComparedPair[]> => {
      const made = pairCounts(names, pair, schema, ws.today);
      const resolved = resolveQuery(made.spec, made.schema, { today: ws.today, values, person: ws.knownAs });
      if (!resolved.ok) return [];
      const [row = []] = await rowsOfPlan(ws, resolved.value, { offset: 0, rows: 1 }, caller);
      const [pairs = 0, found = 0, rows = 0] = row.map((cell) => Number(cell ?? 0));
      return rows > 0 && found / rows >= LEAST_SHARE ? [{ ...pair, pairs, found, rows }] : [];
    }),
  );
  // What finds as many with fewer pairs tells rows apart better.
  return counted.flat().sort((a, b) => b.found - a.found || a.pairs - b.pairs);
}
