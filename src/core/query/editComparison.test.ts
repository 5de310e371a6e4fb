import { expect, test } from "vitest";
import { column } from "../../../test/support/sample";
import { briefText, phraseOfProblem, queryBrief } from "../brief/brief";
import type { Schema, Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { date, decimal, text, whole } from "../types/valueType";
import { COMPARE_STATES, STATE } from "./comparison";
import { proposeKey, setCarried, setFields, setKey, setSide, setTolerance, showState, startComparison, statesShown, toggleState } from "./editComparison";
import { resolveQuery } from "./resolve";

const table = (name: string, columns: Table["columns"]): Table => ({ name, label: name, key: [], rows: 0, columns });
const ours = table("ours", [column("waybill", text), column("sent", date), column("freight", decimal(2)), column("pieces", whole)]);
const theirs = table("theirs", [column("waybill no", text), column("freight", decimal(1)), column("pieces", whole), column("note", text)]);
const schema: Schema = { tables: [ours, theirs, table("other", [column("sent", date)])], links: [] };
const locale = { locale: "en-GB", zone: "UTC" };
const started = setSide(startComparison("ours"), schema, "there", "theirs");
const said = (spec: typeof started) => briefText(queryBrief(spec, schema, locale));

test("a comparison begins without its other side, says so at its phrase, and proposes key and figures once it has it", () => {
  const begun = resolveQuery(startComparison("ours"), schema, { today: usualDay("2026-11-23"), values: {} });
  expect(begun.ok ? [] : begun.problems.map((p) => phraseOfProblem(p, started))).toEqual(["compare there"]);
  // The figure there is marked where it differs.
  const idOf = (name: string) => started.columns.find((c) => c.value?.kind === "field" && c.value.column === name)?.id;
  expect(started.marks).toEqual([{ id: "m1", column: idOf("there 0"), look: "shade", tone: "look", test: "beyond", value: "0", by: idOf("difference 0") }]);
  expect(setTolerance(started, "0.5")).toMatchObject({ compare: { tolerance: "0.5" }, marks: [{ test: "beyond", value: "0.5" }] });
  const own = { ...started, marks: started.marks?.map((m) => ({ ...m, value: "3" })) };
  expect(setTolerance(own, "0.5").marks, "a rule of a person's own").toEqual(own.marks);
  expect(setFields(started, schema, []).marks).toBeUndefined();
  expect(started.compare).toMatchObject({ key: [{ here: "waybill", there: "waybill no" }], fields: [{ here: "freight", there: "freight" }] });
  expect(said(started)).toBe(
    "Compare ours with theirs by waybill (there waybill no): freight, with differences up to 0 taken as the same, where state is one of only here, only there, different, doubled. Show 5 columns, sorted by state (A to Z), then waybill (A to Z). ",
  );
});

test("texts and dates of one name are shown beside; what becomes the key is shown once", () => {
  const named = (name: string) => table(name, [column("no", text), column("who", text), column("sent", date), column("freight", decimal(2))]);
  const both: Schema = { tables: [named("a"), named("b")], links: [] };
  const begun = setSide(startComparison("a"), both, "there", "b");
  const beside = (spec: typeof begun) => spec.compare?.carried?.map((c) => c.here);
  expect(beside(begun)).toEqual(["who", "sent"]);
  expect(briefText(queryBrief(begun, both, locale))).toContain("taken as the same, beside who and sent,");
  expect(beside(setKey(begun, both, [{ here: "who", there: "who" }]))).toEqual(["sent"]);
  const alone = setCarried(begun, both, [{ here: "", there: "who" }]);
  expect(briefText(queryBrief(alone, both, locale))).toContain(", beside who,");
  expect(alone.columns.map((c) => c.value)).toContainEqual({ kind: "field", join: "", column: "carried 0" });
  expect(setCarried(begun, both, []).compare?.carried).toBeUndefined();
});

test("keys of rows elsewhere are known as such where a side says so, and no side says otherwise", () => {
  const leads = (from: string, column: string, to: string) => ({
    id: `${from} ${to}`,
    a: { table: from, columns: [column], name: `${from}s`, leadsTo: "many" as const },
    b: { table: to, columns: ["id"], name: to, leadsTo: "one" as const },
  });
  const lot = (name: string) => table(name, [column("no", text), column("shipper", whole), column("yard", whole)]);
  const named = (name: string) => ({ ...table(name, [column("id", whole), column("name", text)]), key: ["id"] });
  const both: Schema = {
    tables: [lot("a"), lot("b"), named("shipper"), named("yard")],
    links: [leads("a", "shipper", "shipper"), leads("a", "yard", "yard"), leads("b", "yard", "shipper")],
  };
  const keyed = setKey(setSide(startComparison("a"), both, "there", "b"), both, [{ here: "shipper", there: "shipper" }]);
  const rowsOf = (spec: typeof keyed) => {
    const resolved = resolveQuery(spec, both, { today: usualDay("2026-11-23"), values: {} });
    if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
    return Object.fromEntries(resolved.value.columns.flatMap((c) => (c.rowOf === undefined ? [] : [[c.heading, c.rowOf]])));
  };
  expect(rowsOf(setCarried(keyed, both, [{ here: "yard", there: "" }]))).toEqual({ Shipper: "shipper", Yard: "yard" });
  expect(rowsOf(setCarried(keyed, both, [{ here: "yard", there: "yard" }]))).toEqual({ Shipper: "shipper" });
});

test("columns of one name come before those of one word, and figures are no key", () => {
  expect(proposeKey(ours, table("x", [column("freight", decimal(2)), column("pieces", whole)]))).toEqual([{ here: "pieces", there: "pieces" }]);
  expect(proposeKey(ours, table("x", [column("freight", decimal(2))]))).toEqual([]);
});

test("what is matched by is held against nothing, and conditions on fields that went go too", () => {
  const by = setKey(started, schema, [{ here: "freight", there: "freight" }]);
  expect(by.compare?.fields).toEqual([]);
  const asked = {
    ...started,
    conditions: [
      ...started.conditions,
      { id: "d", left: { kind: "field" as const, join: "", column: "difference 0" }, operator: "notEmpty" as const, values: [] },
    ],
  };
  expect(setFields(asked, schema, []).conditions.map((c) => c.id)).toEqual(["state"]);
  expect(setTolerance(started, "0.5").compare?.tolerance).toBe("0.5");
  expect(setSide(started, schema, "there", "other").compare).toMatchObject({ there: "other", key: [], fields: [] });
});

test("states are shown and hidden one by one; all or none of them are no condition", () => {
  expect(statesShown(started)).toEqual(["only here", "only there", "different", "doubled"]);
  expect(statesShown(toggleState(started, "doubled"))).toEqual(["only here", "only there", "different"]);
  const all = toggleState(started, "the same");
  expect([all.conditions, statesShown(all)]).toEqual([[], [...COMPARE_STATES]]);
  const one = toggleState(all, "different");
  expect([one.conditions.map((c) => c.id), statesShown(one)]).toEqual([["w1"], ["different"]]);
  expect(toggleState(one, "different").conditions).toEqual([]);
  expect(toggleState(one, null).conditions).toEqual([]);
  expect(one.conditions[0]).toMatchObject({ left: { column: STATE } });
});

test("one state alone is shown whatever was shown before", () => {
  expect(statesShown(showState(started, "different"))).toEqual(["different"]);
  expect(statesShown(showState(showState(started, "doubled"), "only there"))).toEqual(["only there"]);
});
