import { describe, expect, it } from "vitest";
import { crates, field, is, said } from "../../../test/support/crates";
import { sampleSchema } from "../../../test/support/sample";
import { usualDay } from "../types/calendar";
import { addToStack, pairInStack, removeFromStack } from "./editStack";
import { emptyQuery } from "./empty";
import { type KnownTables, type NamedQuery, queriesRead, readsItself, withQueryTables } from "./queryTables";
import { resolveQuery } from "./resolve";
import type { Condition } from "./spec";

/* Sources put together, and queries over queries. */

describe("sources", () => {
  it("are put together, paired and let go", () => {
    const two = addToStack(addToStack(crates, "stamp"), "yard");
    const paired = pairInStack(two, 1, "mark", "name");
    expect(paired.stack).toEqual({ how: "all", parts: ["stamp", "yard"], pairs: [{}, { mark: "name" }] });
    expect(said(paired)).toMatch(/^From crate, stamp and yard \(all rows\)/);
    expect(removeFromStack(paired, 0).stack).toEqual({ how: "all", parts: ["yard"], pairs: [{ mark: "name" }] });
    expect(removeFromStack(removeFromStack(paired, 0), 0).stack).toBeUndefined();
  });
  it("ask for the parameters of a saved query that is joined, each once", () => {
    const least = { name: "least", type: "decimal" as const, default: { kind: "fixed" as const, text: "1" } };
    const inner = {
      ...crates,
      conditions: [{ ...is("w8", field("price"), ""), values: [{ kind: "parameter" as const, name: "least" }] }],
      parameters: [least],
    };
    const schema = withQueryTables(sampleSchema, [{ id: "a", name: "A", spec: inner }], usualDay("2026-11-23"));
    const on = [{ ...is("w9", field("c1", "q"), ""), values: [field("mark")] }];
    const joined = (way: "keep" | "has") => ({
      ...emptyQuery("crate"),
      columns: crates.columns.slice(0, 1),
      joins: [{ id: "q", from: "", table: "query a", on, way }],
    });
    for (const way of ["keep", "has"] as const) {
      const resolved = resolveQuery(joined(way), schema, { today: usualDay("2026-11-23"), values: { least: "2" } });
      expect(resolved.ok && resolved.value.parameters.map((p) => [p.name, p.text])).toEqual([["least", "2"]]);
    }
  });
  it("may be saved queries, none of which reads itself", () => {
    const named = (id: string, source: string) => ({ id, name: `Q ${id}`, spec: { ...emptyQuery(source), columns: [] } });
    expect(queriesRead({ ...emptyQuery("query a"), stack: { how: "all", parts: ["crate", "query b"] } })).toEqual(["a", "b"]);
    expect(readsItself(named("a", "query b"), [named("b", "query c"), named("c", "crate")])).toBeNull();
    expect(readsItself(named("a", "query b"), [named("a", "crate"), named("b", "query c"), named("c", "query a")])).toBe("Q a → Q b → Q c → Q a");
    // One that joins another reads it too, whichever is listed first.
    const joins = (id: string, table: string) => ({
      ...named(id, "crate"),
      spec: {
        ...crates,
        joins: [...crates.joins, { id: "q", from: "", table, on: [{ ...is("w3", field("c1", "q"), ""), values: [field("mark")] }], way: "keep" as const }],
      },
    });
    expect(queriesRead(joins("a", "query b").spec)).toEqual(["b"]);
    const among: Condition = { ...is("w9", field("mark"), ""), operator: "among", values: [{ kind: "rows", table: "query c", column: "c1" }] };
    expect(queriesRead({ ...crates, conditions: [{ id: "g", holds: "none", of: [among] }] })).toEqual(["c"]);
    expect(readsItself(joins("a", "query b"), [joins("b", "query a")])).toBe("Q a → Q b → Q a");
    const both = withQueryTables(sampleSchema, [joins("a", "query b"), { ...named("b", "crate"), spec: crates }], usualDay("2026-11-23"));
    expect(both.queries?.map((t) => t.rowsOf?.broken)).toEqual([undefined, undefined]);
    const lost = withQueryTables(sampleSchema, [named("a", "query gone")], usualDay("2026-11-23"));
    expect(lost.queries?.[0]?.rowsOf?.broken).toMatch(/has no table/);
  });
  it("are made again as tables only where they, what they read, the shape or the day is another", () => {
    const day = usualDay("2026-11-23");
    const inner = { id: "a", name: "A", spec: crates };
    const outer = { id: "b", name: "B", spec: { ...emptyQuery("query a"), columns: [{ id: "x", value: field(crates.columns[0]?.id ?? "") }] } };
    const known: KnownTables = new WeakMap();
    const made = (queries: NamedQuery[], schema = sampleSchema, on = day) => withQueryTables(schema, queries, on, known).queries ?? [];
    const first = made([outer, inner]);
    expect(first.map((t) => t.label)).toEqual(["A", "B"]);
    const same = made([outer, inner]);
    expect(same.map((t, i) => t === first[i])).toEqual([true, true]);
    // What it reads is another: so is it, though its own description is not.
    const renamed = { ...inner, spec: { ...crates, columns: crates.columns.map((c, i) => (i === 0 ? { ...c, label: "Sign" } : c)) } };
    const next = made([outer, renamed]);
    expect(next.map((t, i) => t === first[i])).toEqual([false, false]);
    expect(next[1]?.columns[0]?.label).toBe("sign");
    expect(made([outer, inner], sampleSchema, usualDay("2026-11-24")).map((t, i) => t === first[i])).toEqual([false, false]);
    expect(made([outer, inner], { ...sampleSchema })[0]).not.toBe(first[0]);
  });
});
