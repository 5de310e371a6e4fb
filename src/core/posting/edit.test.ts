import { expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { findTable, type Table } from "../schema/schema";
import { text } from "../types/valueType";
import {
  tablesForNextStep,
  withArchive,
  withControlAt,
  withDown,
  withExisting,
  withNewControl,
  withNextStep,
  withoutStep,
  withPair,
  withStep,
  withTarget,
} from "./edit";
import type { Pair, PostingSpec } from "./spec";
import { stepsOf } from "./steps";

const field = (column: string, name = column): Pair => ({ column, value: { kind: "field", name } });
const spec: PostingSpec = {
  version: 1,
  source: { kind: "table", table: "rows" },
  action: "add",
  target: "crate",
  same: ["mark"],
  present: "leave",
  breaking: "refuse",
  pairs: [field("mark", "Mark"), field("price", "Fee")],
};
const table = (name: string) => findTable(sampleSchema, name) as Table;
const source: Table = {
  name: "rows",
  label: "file",
  key: [],
  rows: 1,
  columns: ["Mark", "Fee", "crate"].map((name) => ({ name, label: name, type: text, storage: "plain", nullable: true, misfits: 0 })),
};
const twoSteps = withNextStep(spec, table("stamp"), source, sampleSchema);

it("adds a step whose rows find those of the first by what these are matched by", () => {
  expect(twoSteps.steps).toEqual([
    {
      source: null,
      action: "add",
      target: "stamp",
      same: [],
      present: "add",
      breaking: "refuse",
      pairs: [field("fee", "Fee"), { column: "crate_id", value: { kind: "field", name: "Mark" }, found: { link: "stamp.crate_id", by: "mark" } }],
    },
  ]);
  expect(stepsOf(twoSteps).map((s) => [s.target, s.source])).toEqual([
    ["crate", spec.source],
    ["stamp", spec.source],
  ]);
  // By several columns, or by none, no row of the first step can be named by one.
  const led = (same: string[]) => withNextStep({ ...spec, same }, table("stamp"), null, sampleSchema).steps?.[0]?.pairs;
  expect([led(["mark", "price"]), led([])]).toEqual([[], []]);
  expect(tablesForNextStep(spec, sampleSchema).map((t) => t.name)).toEqual(["yard", "stamp", "crate"]);
});
it("changes one step and leaves the others; one with another target begins anew", () => {
  expect(withStep(twoSteps, 0, { action: "change" })).toMatchObject({ action: "change", steps: [{ action: "add" }] });
  expect(withStep(twoSteps, 1, { action: "remove" })).toMatchObject({ action: "add", steps: [{ action: "remove" }] });
  expect(withTarget(twoSteps, 1, "yard").steps?.[0]).toMatchObject({ target: "yard", pairs: [], same: [] });
  expect(withTarget(twoSteps, 0, "crate")).toBe(twoSteps);
});
it("removes a step with its control totals, those of later steps going along", () => {
  const three = withNextStep(twoSteps, table("yard"), source, sampleSchema);
  const controlled = [0, 1, 2].reduce((s, step) => withNewControl(s, step), three);
  const left = withoutStep(controlled, 1);
  expect(left.steps?.map((s) => s.target)).toEqual(["yard"]);
  expect(left.controls?.map((c) => c.step)).toEqual([0, 1]);
});
it("changes and removes control totals", () => {
  const controlled = withNewControl(withNewControl(spec, 0), 0);
  expect(withControlAt(controlled, 1, { value: "3" }).controls?.map((c) => c.value)).toEqual(["0", "3"]);
  expect(withControlAt(controlled, 0, null).controls?.length).toBe(1);
});
it("pairs a column in the table's order, and matches by no column that has no source", () => {
  expect(withPair(spec, "yard_id", field("yard_id", "Yard"), ["yard_id", "mark", "price"]).pairs.map((p) => p.column)).toEqual(["yard_id", "mark", "price"]);
  expect(withPair(spec, "mark", null, ["mark", "price"])).toEqual({ pairs: [field("price", "Fee")], same: [] });
  expect([withDown(field("price"), true), withDown(withDown(field("price"), true), false)]).toEqual([{ ...field("price"), down: true }, field("price")]);
  expect(withExisting(withExisting(field("price"), "keep"), null)).toEqual(field("price"));
});
it("moves rows into an archive of their table, every column into its own", () => {
  const origin: Table = { ...table("yard"), columns: table("yard").columns.map((c) => (c.name === "id" ? { ...c, filled: "number" as const } : c)) };
  const moved = withArchive(spec, 0, { name: "yard_archive", origin, source: origin, schema: sampleSchema });
  expect(moved).toMatchObject({ action: "move", target: "yard_archive", same: ["id"] });
  expect(moved.pairs).toEqual(["id", "name", "opened", "rent", "open"].map((c) => field(c)));
});
