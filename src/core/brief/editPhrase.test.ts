import { describe, expect, it } from "vitest";
import { emptyQuery } from "../query/empty";
import type { Condition, Operand, QuerySpec } from "../query/spec";
import type { PhraseTarget } from "./brief";
import { withoutCondition, withoutPhrase } from "./editPhrase";

const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });
const condition = (id: string, column: string, join = ""): Condition =>
  ({ id, left: field(column, join), operator: "is", values: [{ kind: "value", text: "x" }] }) as Condition;
const spec: QuerySpec = {
  ...emptyQuery("crate"),
  joins: [
    { id: "y", from: "", link: "crate.yard_id", toward: "b", way: "keep" },
    { id: "s", from: "", link: "stamp.crate_id", toward: "a", way: "only" },
  ],
  conditions: [condition("w1", "mark"), condition("w2", "name", "y")],
  grouped: true,
  columns: [
    { id: "c1", value: field("mark") },
    { id: "c2", value: field("fee", "s"), figure: "total" },
  ],
  order: [{ column: "c1", direction: "up" }],
  limit: 10,
};
const ids = (list: { id: string }[]) => list.map((x) => x.id).join(" ");

describe("Delete on a phrase", () => {
  it.each<PhraseTarget>([
    { kind: "conditionField", id: "w1" },
    { kind: "operator", id: "w1" },
    { kind: "value", id: "w1", index: 1 },
  ])("takes the condition whole, by its $kind", (target) => {
    expect(withoutPhrase(spec, target)).toEqual({ ...spec, conditions: [spec.conditions[1]] });
    expect(withoutCondition(spec, target)).toEqual(withoutPhrase(spec, target));
  });
  it("lets a table go that only the condition needed", () => {
    const next = withoutPhrase(spec, { kind: "operator", id: "w2" });
    expect([ids(next.conditions), ids(next.joins)]).toEqual(["w1", "s"]);
  });
  it.each(["join", "way"] as const)("takes a brought table with its columns and conditions, by its %s", (kind) => {
    const withoutYard = withoutPhrase(spec, { kind, id: "y" });
    expect([ids(withoutYard.joins), ids(withoutYard.conditions), ids(withoutYard.columns)]).toEqual(["s", "w1", "c1 c2"]);
    const withoutStamps = withoutPhrase(spec, { kind, id: "s" });
    expect([ids(withoutStamps.joins), ids(withoutStamps.columns)]).toEqual(["y", "c1"]);
  });
  it("takes a group with the order by it, the order, the limit", () => {
    const withoutGroup = withoutPhrase(spec, { kind: "group", id: "c1" });
    expect([ids(withoutGroup.columns), withoutGroup.order]).toEqual(["c2", []]);
    expect(withoutPhrase(spec, { kind: "order" })).toEqual({ ...spec, order: [] });
    expect(withoutPhrase(spec, { kind: "limit" })).toEqual({ ...spec, limit: null });
  });
  it.each<PhraseTarget>([{ kind: "source" }, { kind: "columns" }, { kind: "field", name: "n" }])("leaves what a query cannot be without: its $kind", (target) =>
    expect(withoutPhrase(spec, target)).toBe(spec),
  );
  it.each<PhraseTarget>([{ kind: "join", id: "y" }, { kind: "way", id: "y" }, { kind: "group", id: "c1" }, { kind: "order" }, { kind: "limit" }])(
    "takes nothing but conditions where only they are a person's own: not its $kind",
    (target) => expect(withoutCondition(spec, target)).toBe(spec),
  );
});
