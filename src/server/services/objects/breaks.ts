import { BREAKABLE, type BreakableKind, brokenParts } from "@/core/desk/broken";
import { probeValues } from "@/core/query/parameters";
import { withQueryTables } from "@/core/query/queryTables";
import { resolveQuery } from "@/core/query/resolve";
import { querySpecSchema } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { type Problem, sentence } from "@/core/types/problem";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { madeWith } from "@/server/catalogue/madeFrom";
import { savedQueries } from "@/server/catalogue/savedQueries";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";

const KINDS: ReadonlySet<string> = new Set(BREAKABLE);

/** How many of those that would break are named. */
const MOST_NAMED = 4;

/**
 * Refuses a change of an object that would break what is made from it: names each that the person may see, and what it would miss.
 * What was broken before is not told again.
 * @throws Refusal 409 with the code "breaks"
 */
export async function refuseBreaking(ws: Workspace, object: SavedObject, spec: unknown): Promise<void> {
  const all = ws.catalogue.list();
  const users = madeWith(object.id, all).filter((o) => KINDS.has(o.kind));
  if (users.length === 0) return;
  const schema = await ws.schema();
  const next = object.kind === "query" ? schemaAfter(ws, schema, object, spec) : schema;
  const check = (user: SavedObject, on: Schema, changed: SavedObject) =>
    brokenParts(user.kind as BreakableKind, user.spec, { schema: on, today: ws.today, find: (id) => (id === changed.id ? changed : ws.catalogue.get(id)) });
  const wrong = object.kind === "query" ? brokenBy(schema, ws.today, object, spec) : undefined;
  const broken = users.flatMap((user) => {
    // What cannot be worked out itself breaks all that read it.
    if (wrong) return [{ user, words: sentence(wrong) }];
    const before = new Set(check(user, schema, object).map(sentence));
    const [first] = check(user, next, { ...object, spec }).filter((p) => !before.has(sentence(p)));
    return first ? [{ user, words: sentence(first) }] : [];
  });
  if (broken.length === 0) return;
  const seen = broken.filter(({ user }) => ws.objects.open(user.id) && user.name !== "");
  const named = seen.slice(0, MOST_NAMED).map(({ user, words }) => `The ${user.kind} “${user.name}” would stop working: ${words}`);
  const others = broken.length - named.length;
  throw new Refusal(
    409,
    [...named, ...(others > 0 ? [`${others === 1 ? "One other item" : `${others} other items`} would stop working.`] : [])].join(" "),
    "breaks",
  );
}

/** What keeps a query from being worked out that could be before it was changed. */
function brokenBy(schema: Schema, today: Today, object: SavedObject, spec: unknown): Problem | undefined {
  const problems = (of: unknown): Problem[] => {
    const read = querySpecSchema.safeParse(of);
    if (!read.success) return [];
    const resolved = resolveQuery(read.data, schema, { today, values: probeValues(read.data.parameters), probing: true });
    return resolved.ok ? [] : resolved.problems.filter((p) => p.code !== "parameterMissing");
  };
  return problems(object.spec).length === 0 ? problems(spec)[0] : undefined;
}

/** The schema as it would be with a query changed: what other queries start from. */
function schemaAfter(ws: Workspace, schema: Schema, { id, name }: SavedObject, spec: unknown): Schema {
  const changed = querySpecSchema.safeParse(spec);
  if (!changed.success) return schema;
  const queries = savedQueries(ws.catalogue).map((q) => (q.id === id ? { id, name, spec: changed.data } : q));
  return withQueryTables({ ...schema, queries: [] }, queries, ws.today);
}
