import { expect, it } from "vitest";
import { emptyQuery } from "@/core/query/empty";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { compileStatement } from "@/core/query/statement";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { text, whole } from "@/core/types/valueType";
import { postgres } from "./postgres";

/* What an index of the server can serve is written so that it does; where it would come to something else, it is not. */

const column = (name: string, nullable = true) => ({ name, label: name, type: whole, storage: "small" as const, nullable, misfits: 0 });
const schema: Schema = {
  tables: [
    {
      name: "crate",
      label: "crate",
      key: ["id"],
      rows: 9,
      columns: [column("id", false), column("yard_id"), { ...column("mark"), type: text, storage: "collated" }],
    },
    { name: "yard", label: "yard", key: ["id"], rows: 9, columns: [column("id", false)] },
  ],
  links: [
    {
      id: "l",
      a: { table: "crate", columns: ["yard_id"], name: "crates", leadsTo: "many" },
      b: { table: "yard", columns: ["id"], name: "yard", leadsTo: "one" },
    },
  ],
};
const field = (name: string) => ({ kind: "field" as const, join: "", column: name });

function sqlOf(more: Partial<QuerySpec>): string {
  const spec: QuerySpec = { ...emptyQuery("crate"), columns: [{ id: "a", value: field("id") }], ...more };
  const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return compileStatement({ of: "rows", plan: resolved.value }, postgres).text;
}
const joined = (way: "keep" | "other" | "both"): Partial<QuerySpec> => ({ joins: [{ id: "y", from: "", link: "l", toward: "b", way }] });

it("orders by a required column of the source as its index does, unless rows may stand without one", () => {
  expect(sqlOf({})).toMatch(/ORDER BY "crate"\."id" ASC$/);
  expect(sqlOf({ order: [{ column: "a", direction: "down" }] })).toMatch(/ORDER BY "crate"\."id" DESC/);
  expect(sqlOf(joined("keep"))).toMatch(/ORDER BY "crate"\."id" ASC$/);
  for (const way of ["other", "both"] as const) expect(sqlOf(joined(way))).toContain('ORDER BY "crate"."id" ASC NULLS FIRST');
  expect(sqlOf({ columns: [{ id: "a", value: field("yard_id") }], order: [{ column: "a", direction: "up" }] })).toContain(
    'ORDER BY "crate"."yard_id" ASC NULLS FIRST, "crate"."id" ASC',
  );
});

it("compares a small number as it is stored, works with it in 64 bits, and groups by what it shows", () => {
  const condition = { id: "w", left: field("id"), operator: "is" as const, values: [{ kind: "value" as const, text: "7" }] };
  expect(sqlOf({ conditions: [condition] })).toContain('WHERE ("crate"."id" = CAST($1 AS bigint))');
  expect(sqlOf({ columns: [{ id: "a", value: { kind: "formula", text: "id * 2" } }] })).toContain('CAST("crate"."id" AS bigint) *');
  const grouped = sqlOf({ grouped: true, columns: [{ id: "a", value: field("mark") }], order: [{ column: "a", direction: "up" }] });
  expect(grouped).toContain('GROUP BY (CAST("crate"."mark" AS text) COLLATE "C")');
});
