import { lastingValues } from "@/core/query/parameters";
import { type ParameterValues, parameterValuesSchema, type QuerySpec } from "@/core/query/spec";
import { Refusal } from "@/server/common/refusal";
import { viewerOf } from "@/server/services/people/viewer";
import type { Workspace } from "@/server/services/workspace/workspace";

/* What a person last gave for a saved query's parameters. Those with a default begin with it each time: a date that moves on is not held. */

/** What is kept is of the query as it stands now. */
export const lastValues = (ws: Workspace, headers: Headers, id: string, { parameters }: QuerySpec): ParameterValues =>
  lastingValues(parameters, parameterValuesSchema.safeParse(ws.catalogue.viewerState(viewerOf(ws, headers), id)).data ?? {});

/** @throws Refusal 404 for a query that is not there or not theirs to open */
export function keepValues(ws: Workspace, headers: Headers, id: string, values: ParameterValues): void {
  if (ws.objects.open(id)?.kind !== "query") throw new Refusal(404, "This query does not exist any more.");
  ws.catalogue.setViewerState(viewerOf(ws, headers), id, values);
}
