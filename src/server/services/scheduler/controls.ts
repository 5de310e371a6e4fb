import { chartSpecSchema } from "@/core/chart/spec";
import { letterSpecSchema } from "@/core/letter/spec";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { postingSpecSchema } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { type AgreedControl, agreedControls, checkControls, controlWords } from "@/core/query/controls";
import type { QuerySpec } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import type { ScheduleSpec } from "@/core/schedule/spec";
import type { Today } from "@/core/types/calendar";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { OWN_QUERY, savedQuery } from "@/server/services/queries/saved";
import { footingOfPlan, planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { CALLER } from "./writers";

/** A run whose query does not agree with its control totals: it is held until its owner has seen the difference. */
export class Held extends Error {
  constructor(words: string) {
    super(words);
    this.name = "Held";
  }
}

/** A query that a subject is made from, and what is bound to its parameters there. */
type Source = { query: string; parameters: Record<string, string> /** One kept inside the subject, in place of a saved one. */; own?: QuerySpec };

/** Every query that a subject is made from: a dashboard's tiles and what stands after a report's rows have their own. */
function sourcesOf(ws: Workspace, saved: SavedObject): Source[] {
  const reached = (ids: string[]): Source[] =>
    ids.flatMap((id) => {
      const found = ws.objects.get(id);
      return found ? sourcesOf(ws, found) : [];
    });
  switch (saved.kind) {
    case "query":
      return [{ query: saved.id, parameters: {} }];
    case "chart": {
      const { query, pivot } = chartSpecSchema.parse(saved.spec);
      return [{ query, parameters: pivot.parameters }];
    }
    case "pivot":
      return [pivotSpecSchema.parse(saved.spec)];
    case "report": {
      const { query, own, parameters, closing = [] } = reportSpecSchema.parse(saved.spec);
      return [{ query, parameters, ...(own ? { own } : {}) }, ...reached(closing.map((c) => c.id))];
    }
    case "letter":
      return [letterSpecSchema.parse(saved.spec)];
    case "posting": {
      const read = stepsOf(postingSpecSchema.parse(saved.spec)).map((step) => step.source);
      return read.flatMap((source) => (source.kind === "query" ? [{ query: source.id, parameters: source.values }] : []));
    }
    case "dashboard":
      return reached(madeFrom("dashboard", saved.spec));
    default:
      return [];
  }
}

/**
 * Holds each query of the subject against its control totals, with the parameters it is run with.
 * @returns those that were checked: all agree
 * @throws Held with every difference
 */
export async function checkControlTotals(ws: Workspace, spec: ScheduleSpec, values: Record<string, string>, today: Today): Promise<AgreedControl[]> {
  const saved = ws.objects.get(spec.subject.id);
  const sources = new Map(
    (saved ? sourcesOf(ws, saved) : []).map(({ query, parameters, own }) => [JSON.stringify([query, parameters, own]), { query, parameters, own }]),
  );
  const differences: string[] = [];
  const agreed: AgreedControl[] = [];
  for (const { query: id, parameters, own } of sources.values()) {
    const { name, spec: query } = own ? { name: saved?.name ?? OWN_QUERY, spec: own } : savedQuery(ws, id);
    if (!query.controls?.length) continue;
    const plan = await planOf(ws, query, { ...parameters, ...values }, today);
    const checks = checkControls(query, plan, await footingOfPlan(ws, plan, CALLER));
    agreed.push(...agreedControls(checks, ws.locale));
    const words = controlWords(checks, ws.locale);
    if (words) differences.push(sources.size > 1 ? `“${name}”: ${words}` : words);
  }
  if (differences.length > 0) throw new Held(differences.join(" "));
  return agreed;
}
