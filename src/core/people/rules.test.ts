import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { compileRows } from "../query/compile";
import { sqlite } from "../query/dialect/sqlite";
import * as edit from "../query/edit";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import type { Condition, QuerySpec, Value } from "../query/spec";
import { findTable } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { columnsRead, isWhole, partialTables, rulesFor, shownSchema, withRules } from "./rules";
import type { Asker, RuleSpec, Who } from "./spec";

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const isMe = (column: string, join = ""): Condition => ({ id: `w ${column}`, left: field(column, join), operator: "is", values: [{ kind: "person" }] });
const is = (column: string, value: Value): Condition => ({ id: `w ${column}`, left: field(column), operator: "is", values: [value] });
const rule = (query: QuerySpec, who: Who = { kind: "role", role: "viewer" }): RuleSpec => ({ version: 1, who, query });
const viewer: Asker = { id: "una", role: "viewer", knownAs: "7" };
const today = usualDay("2026-11-24");
const yards = rule({ ...emptyQuery("yard"), conditions: [isMe("id")] });

/** The SQL of all crates with their yard, as somebody asks for it. */
function sqlFor(asker: Asker, ...rules: RuleSpec[]) {
  const schema = withRules(sampleSchema, rules, asker, today);
  const { spec, join } = edit.bring(emptyQuery("crate"), [{ link: "crate.yard_id", toward: "b" }]);
  const resolved = resolveQuery({ ...spec, columns: [{ id: "c", value: field("name", join) }] }, schema, { today, values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return { plan: resolved.value, schema, sql: compileRows(resolved.value, sqlite) };
}

describe("rules on rows", () => {
  it("bind those they are for: a role, or one person; never an owner", () => {
    const forOne = rule(yards.query, { kind: "person", person: "una" });
    const bound = (who: RuleSpec, asker: Asker) => [...rulesFor([who], asker).keys()];
    expect(bound(yards, viewer)).toEqual(["yard"]);
    expect(bound(yards, { ...viewer, role: "analyst" })).toEqual([]);
    expect(bound(forOne, { ...viewer, role: "analyst" })).toEqual(["yard"]);
    expect(bound(forOne, { ...viewer, id: "jo" })).toEqual([]);
    expect(bound(forOne, { ...viewer, role: "owner" })).toEqual([]);
    expect(bound(yards, { ...viewer, role: "owner" })).toEqual([]);
  });
  it("stand wherever the table is read, with who asks bound to them", () => {
    const { sql, plan } = sqlFor(viewer, yards);
    expect(sql.text).toMatch(/LEFT JOIN \(\s*SELECT "yard"\.\*\s*FROM "yard"/);
    expect(sql.values.map((v) => v.value)).toContain("7");
    expect(partialTables(plan)).toEqual(["yard"]);
    expect(partialTables(sqlFor({ ...viewer, role: "owner" }, yards).plan)).toEqual([]);
  });
  it("must all hold where there are several on a table", () => {
    const open = rule({ ...emptyQuery("yard"), conditions: [is("open", { kind: "value", text: "yes" })] });
    const { schema, sql } = sqlFor(viewer, yards, open);
    expect(findTable(schema, "yard")?.rules).toHaveLength(2);
    expect(sql.values.map((v) => v.value).sort()).toEqual(["1", "7"]);
  });
  it("let no row through where they cannot be worked out, would repeat rows, or nobody is known", () => {
    const letsNothing = (broken: RuleSpec) => {
      const [made] = findTable(withRules(sampleSchema, [broken], viewer, today), "yard")?.rules ?? [];
      return made?.conditions.map((c) => c.id);
    };
    expect(letsNothing(rule({ ...emptyQuery("yard"), conditions: [isMe("gone")] }))).toEqual(["none"]);
    const many = edit.bring(emptyQuery("yard"), [{ link: "crate.yard_id", toward: "a" }]);
    expect(letsNothing(rule({ ...many.spec, conditions: [isMe("id", many.join)] }))).toEqual(["none"]);
    // A parameter left empty must not drop its condition.
    const asked = {
      ...emptyQuery("yard"),
      conditions: [is("name", { kind: "parameter", name: "p" })],
      parameters: [{ name: "p", type: "text" as const, optional: true }],
    };
    expect(letsNothing(rule(asked))).toEqual(["none"]);
    const { sql } = sqlFor({ ...viewer, knownAs: "no number" }, yards);
    expect(sql.values.map((v) => v.value)).toContain(null);
  });
  it("are not told to a browser: which tables are seen in part is, neither by which rule nor how many rows there are", () => {
    const schema = withRules({ ...sampleSchema, tables: sampleSchema.tables.map((t) => ({ ...t, rows: 99 })) }, [yards], viewer, today);
    const shown = shownSchema(schema);
    expect(JSON.stringify(shown)).not.toContain("rules");
    expect(findTable(shown, "yard")).toMatchObject({ partial: true, rows: 0 });
    expect(findTable(shown, "crate")).toMatchObject({ rows: 99 });
    expect([isWhole(schema, "yard"), isWhole(schema, "crate")]).toEqual([false, true]);
  });
  it("are decided by columns that who they bind must not write: conditions, links, and rows they bring", () => {
    const walk = edit.bring(emptyQuery("crate"), [{ link: "crate.yard_id", toward: "b" }]);
    const byYard = rule({ ...walk.spec, conditions: [isMe("name", walk.join)] });
    const read = columnsRead(withRules(sampleSchema, [byYard], { ...viewer, knownAs: "North" }, today));
    expect([...(read.get("crate")?.columns ?? [])]).toEqual(["yard_id"]);
    expect([...(read.get("yard")?.columns ?? [])].sort()).toEqual(["id", "name"]);
    expect([read.get("yard")?.brought, read.get("crate")?.brought]).toEqual([true, false]);
    expect(read.has("stamp")).toBe(false);
  });
});
