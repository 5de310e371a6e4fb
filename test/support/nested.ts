import fc from "fast-check";
import { STACK_NAMES } from "@/core/query/choices";
import { emptyQuery } from "@/core/query/empty";
import type { NamedQuery } from "@/core/query/queryTables";
import { withQueryTables } from "@/core/query/queryTables";
import type { ConditionTree, QueryColumn, QuerySpec } from "@/core/query/spec";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { isNumber } from "@/core/types/valueType";
import { derivedSchema, specArbitrary } from "./arbitrary";

/* Queries that read other queries, to three levels, some of them several put together. */

type Picks = { grouped: boolean; at: number; of: number; asked: boolean; how: number; stacked: boolean; limit: number | null };

const picks: fc.Arbitrary<Picks> = fc.record({
  grouped: fc.boolean(),
  at: fc.nat(5),
  of: fc.nat(5),
  asked: fc.boolean(),
  how: fc.nat(3),
  stacked: fc.boolean(),
  limit: fc.constantFrom(null, null, 7),
});

const pick = <T>(list: T[], n: number): T | undefined => list[n % Math.max(1, list.length)];

/** A query over a table whatever its columns: some of them, or groups by one with figures of another; put together with itself where asked. */
function over(table: Table, { grouped, at, of, asked, how, stacked, limit }: Picks): QuerySpec {
  const field = (column: string) => ({ kind: "field" as const, join: "", column });
  // Floating figures may differ in their last digits, and so may what is the same or comes first.
  const exact = table.columns.filter((c) => c.type.kind !== "floating" && !c.derived);
  const [key, other] = [pick(exact, at), pick(exact, of)];
  const rest: QueryColumn[] = exact.slice(0, 3).map((c, i) => ({ id: `r${i}`, value: field(c.name) }));
  const figures: QueryColumn[] = other
    ? [
        { id: "d", value: field(other.name), figure: "countDifferent" },
        {
          id: "t",
          value: field(other.name),
          figure: isNumber(other.type) ? "total" : "greatest",
          ...(other.type.kind === "yesno" ? { figure: "any" as const } : {}),
        },
      ]
    : [];
  const conditions: ConditionTree[] = asked && other ? [{ id: "w", left: field(other.name), operator: "notEmpty", values: [] }] : [];
  return {
    ...emptyQuery(table.name),
    ...(stacked ? { stack: { how: STACK_NAMES[how] ?? "all", parts: [table.name] } } : {}),
    conditions,
    grouped,
    columns: grouped ? [...(key ? [{ id: "k", value: field(key.name) }] : []), { id: "n", value: null, figure: "count" }, ...figures] : rest,
    limit,
  };
}

/** A query over a query over a query, with the schema in which the inner ones are tables. */
export const nestedArbitrary: fc.Arbitrary<{ spec: QuerySpec; schema: Schema }> = fc.tuple(specArbitrary, picks, picks).map(([inner, first, second]) => {
  const day = usualDay("2026-11-23");
  const named = (id: string, spec: QuerySpec): NamedQuery => ({ id, name: `query ${id}`, spec });
  const one = withQueryTables(derivedSchema, [named("a", inner)], day);
  const middle = over(findTable(one, "query a") as Table, first);
  const two = withQueryTables(derivedSchema, [named("b", middle), named("a", inner)], day);
  return { spec: over(findTable(two, "query b") as Table, second), schema: two };
});
