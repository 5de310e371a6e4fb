import { checkControls } from "@/core/query/controls";
import { querySpecSchema } from "@/core/query/spec";
import type { Cell, ValueType } from "@/core/types/valueType";
import { footingOfPlan, planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";

/** A control total, and what its query shows now, with the parameters' defaults. */
export type ControlNow = { query: string; name: string; id: string; words: string; type: ValueType; is: Cell; out: Cell; agrees: boolean };

type Caller = { client: string; signal?: AbortSignal | undefined };

/** Compares every control total of the queries that the one who works here sees; a query that cannot be run is left out, as the desk says so elsewhere. */
export async function controlsNow(ws: Workspace, caller: Caller): Promise<ControlNow[]> {
  const found: ControlNow[] = [];
  for (const { id, name, spec } of ws.objects.list("query")) {
    const query = querySpecSchema.safeParse(spec).data;
    if (!query?.controls?.length) continue;
    try {
      const plan = await planOf(ws, query, {});
      const checks = checkControls(query, plan, await footingOfPlan(ws, plan, caller));
      for (const { control, heading, type, is, out, agrees } of checks)
        found.push({ query: id, name, id: control.id, words: `${control.source || name}, ${heading.toLowerCase()}`, type, is, out, agrees });
    } catch (error) {
      if (caller.signal?.aborted) throw error;
    }
  }
  return found;
}
