import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { humanise, mayChange, mayReshape, plural, stepsFrom, type Table } from "./schema";

describe("names", () => {
  it("reads stored names as words", () => {
    expect(["freight_charge", "freightCharge", "FreightCharge", "VAT", "a b", "_x_"].map(humanise)).toEqual([
      "freight charge",
      "freight charge",
      "freight charge",
      "VAT",
      "a b",
      "x",
    ]);
  });
  it("makes plurals as English does, and leaves what is plural already", () => {
    expect(["consignment", "duty", "vessel", "class", "box", "batch", "surcharges", "key"].map(plural)).toEqual([
      "consignments",
      "duties",
      "vessels",
      "classes",
      "boxes",
      "batches",
      "surcharges",
      "keys",
    ]);
  });
});

describe("links from a table", () => {
  it("are seen from both sides, those to one first", () => {
    expect(stepsFrom(sampleSchema, "crate").map((s) => `${s.far.leadsTo} ${s.far.name}`)).toEqual(["one yard", "many stamps"]);
  });
});

it("a table is changed from here unless it is a view or denied, and reshaped where it does not lie on a server", () => {
  const table: Table = { name: "t", label: "t", key: ["id"], rows: 0, columns: [] };
  const told = (more: Partial<Table>) => [mayChange({ ...table, ...more }), mayReshape({ ...table, ...more })];
  expect([told({}), told({ view: true }), told({ denied: true }), told({ onServer: true })]).toEqual([
    [true, true],
    [false, false],
    [false, false],
    [true, false],
  ]);
});
