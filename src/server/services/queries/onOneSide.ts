import { z } from "zod";
import { schemaRead } from "@/core/query/comparedSchema";
import { ROWS_COMPARED, sidesOf } from "@/core/query/comparison";
import {
  commonQuery,
  hasOneOfKeys,
  isTraceable,
  keysOnOneSide,
  keyTypes,
  type LosingStep,
  losingSteps,
  MOST_LOOKED_INTO,
  otherSide,
  planKeysAt,
  readCommon,
  readShared,
  type Shared,
  sharedQuery,
  soughtKeys,
  tellingColumns,
} from "@/core/query/onOneSide";
import type { Plan } from "@/core/query/plan";
import { parameterValuesSchema, querySpecSchema } from "@/core/query/spec";
import { findTable } from "@/core/schema/schema";
import type { Workspace } from "@/server/services/workspace/workspace";
import { type Caller, footingOfPlan, planOf, rowsOfPlan } from "./service";

export const oneSideSchema = z.object({ spec: querySpecSchema, values: parameterValuesSchema, side: z.enum(["here", "there"]) });

/** Why rows stand on one side alone; of the first `looked` of them. */
export type OneSide = {
  looked: number;
  /** What they have in common on their own side. */
  shared: Shared[];
  /** Where the other side, a query, left them out; null where it is a table, or cannot be looked into. */
  lost: { steps: (LosingStep & { rows: number })[] /** Not among what that query starts from. */; absent: number; source: string } | null;
};

/** Looks into the rows that one side of a comparison has alone. @throws ProblemError where the comparison cannot be made */
export async function onOneSide(ws: Workspace, { spec, values, side }: z.infer<typeof oneSideSchema>, caller: Caller): Promise<OneSide> {
  const schema = await ws.schema();
  const rows = findTable(schemaRead(schema, spec, ws.today), ROWS_COMPARED);
  const { here, there } = spec.compare ? sidesOf(spec.compare, schema) : {};
  const nothing: OneSide = { looked: 0, shared: [], lost: null };
  // Of a query held against itself the other side is asked for other values, under other names.
  if (!spec.compare || !rows || !here || !there || here === there) return nothing;
  const { compare } = spec;
  const types = keyTypes(rows, compare);
  const read = async (plan: Plan, most: number) => rowsOfPlan(ws, plan, { offset: 0, rows: most }, caller);
  const keys = soughtKeys(await read(await planOf(ws, keysOnOneSide(spec, side), values), MOST_LOOKED_INTO));
  if (keys.length === 0) return nothing;
  const [shared, lost] = await Promise.all([sharedOf(), lostOf()]);
  return { looked: keys.length, shared, lost };

  async function sharedOf(): Promise<Shared[]> {
    const own = side === "here" ? (here as NonNullable<typeof here>) : (there as NonNullable<typeof there>);
    const columns = tellingColumns(own, compare, side);
    const among = hasOneOfKeys(
      compare.key.map((pair) => pair[side]),
      { types, keys },
    );
    const [answer = []] = await read(await planOf(ws, commonQuery(own.name, columns, among), values), 1);
    const common = readCommon(answer, columns);
    if (common.length === 0) return [];
    const [whole = []] = await read(await planOf(ws, sharedQuery(own.name, common), values), 1);
    return readShared(common, Number(answer[0] ?? 0), whole);
  }

  async function lostOf(): Promise<OneSide["lost"]> {
    const other = side === "here" ? there : here;
    if (!other?.rowsOf) return null;
    const plan = await planOf(ws, other.rowsOf.spec, values);
    const columns = compare.key.map((pair) => pair[otherSide(side)]);
    if (!isTraceable(plan, columns)) return null;
    const context = { today: ws.today, values: {}, person: ws.knownAs };
    const keysAt = async (pick: LosingStep["pick"]): Promise<number | null> => {
      const asked = planKeysAt(plan, pick, columns, { types, keys }, context);
      return asked.ok ? (await footingOfPlan(ws, asked.value, caller)).rows : null;
    };
    const found = await keysAt({ part: "source" });
    if (found === null) return null;
    const steps = await Promise.all(losingSteps(plan).map(async (step) => ({ ...step, rows: (await keysAt(step.pick)) ?? 0 })));
    return { steps: steps.filter((s) => s.rows > 0), absent: keys.length - found, source: plan.source.table.label };
  }
}
