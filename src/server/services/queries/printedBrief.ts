import { briefText, rowsBrief } from "@/core/brief/brief";
import { namesInConditions, withRowNames } from "@/core/brief/namedValues";
import { partialTables } from "@/core/people/rules";
import { MOST_NAMED } from "@/core/query/namedRows";
import type { Plan } from "@/core/query/plan";
import { withGiven } from "@/core/query/resolveConditions";
import type { QuerySpec } from "@/core/query/spec";
import type { Workspace } from "@/server/services/workspace/workspace";
import { namesOf } from "./rowNames";

/** Which rows there are, as text, with the parameters' values in it in place of their names. */
export async function printedBrief(ws: Workspace, spec: QuerySpec, plan: Plan): Promise<string> {
  const partial = partialTables(plan);
  const schema = await ws.schema();
  const given = withGiven(spec, plan.parameters);
  const names = new Map<string, Record<string, string>>();
  for (const { table, keys } of namesInConditions(given, schema))
    names.set(table, { ...names.get(table), ...(await namesOf(ws, { table, keys: keys.slice(0, MOST_NAMED) }, { client: "brief" })) });
  const said = withRowNames(rowsBrief(given, schema, ws.locale), given, schema, (table, key) => names.get(table)?.[key]);
  const brief = briefText(said).trim();
  return partial.length > 0 ? `${brief} Of ${partial.join(", ")}: only rows that ${ws.person} can see.` : brief;
}
