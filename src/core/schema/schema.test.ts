import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { humanise, plural, stepsFrom } from "./schema";

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
