import { scheduleSpecSchema } from "@/core/schedule/spec";
import { mayChange, type Schema } from "@/core/schema/schema";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { OWN_QUERY } from "@/server/services/queries/saved";
import { troubledRuns } from "@/server/services/scheduler/state";
import type { Workspace } from "@/server/services/workspace/workspace";
import type { BrokenObject } from "./brokenObjects";

/** Something that needs a look, with all that its line and its remedies are made of. */
export type Need =
  | { need: "held" | "failed"; schedule: string; run: string; name: string; words: string; subject: { kind: string; id: string } | null }
  | ({ need: "broken" } & Omit<BrokenObject, "problems">)
  | { need: "draft"; id: string; name: string }
  | { need: "link" | "derived"; id: string; name: string; table: string; words: string }
  | { need: "flagged"; table: string; name: string; column: string; count: number }
  | { need: "noKey"; table: string; name: string };

/**
 * What needs a look by the one who works here, the most pressing first: runs, broken objects, links and derived fields that
 * do not hold, flagged values, drafts, tables without a key. Viewers mend nothing and are told nothing.
 * @param all every saved object, where they have been read already
 */
export async function needsOf(ws: Workspace, all = ws.catalogue.list()): Promise<Need[]> {
  if (ws.signedIn?.role === "viewer") return [];
  const schema = await ws.schema();
  const mine = all.filter((o) => ws.objects.level(o) === "edit");
  // What a schedule posts is no draft.
  const scheduled = new Set(all.flatMap((o) => (o.kind === "schedule" ? madeFrom("schedule", o.spec) : [])));
  const broken = ws.broken.find(mine, all, schema, ws.today);
  return [
    ...runNeeds(ws),
    ...broken.map(({ problems: _, ...b }): Need => ({ need: "broken", ...b, name: b.name || OWN_QUERY })),
    ...shapeNeeds(schema),
    ...flaggedNeeds(schema),
    ...mine.filter((o) => o.kind === "posting" && !scheduled.has(o.id)).map(({ id, name }): Need => ({ need: "draft", id, name })),
    ...schema.tables.filter((t) => t.key.length === 0 && mayChange(t)).map((t): Need => ({ need: "noKey", table: t.name, name: t.label })),
  ];
}

/** Schedules whose last run was held back, or failed. */
function runNeeds(ws: Workspace): Need[] {
  return troubledRuns(ws).map(({ schedule: { id, name, spec }, run }) => ({
    need: run.state === "held" ? "held" : "failed",
    schedule: id,
    run: run.id,
    name,
    words: run.error ?? "",
    subject: scheduleSpecSchema.safeParse(spec).data?.subject ?? null,
  }));
}

const shapeNeeds = ({ broken = [] }: Schema): Need[] =>
  broken.flatMap(({ kind, id, label, table, why }) => (kind === "link" || kind === "derived" ? [{ need: kind, id, name: label, table, words: why }] : []));

/** Tables with values that do not fit their column's type; of each, the column with the most. */
const flaggedNeeds = ({ tables }: Schema): Need[] =>
  tables.flatMap((t): Need[] => {
    const [worst] = t.columns.filter((c) => c.misfits > 0).sort((a, b) => b.misfits - a.misfits);
    return worst ? [{ need: "flagged", table: t.name, name: t.label, column: worst.label, count: worst.misfits }] : [];
  });
