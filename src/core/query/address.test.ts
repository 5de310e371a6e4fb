import { describe, expect, it } from "vitest";
import { addressWith, valuesOfAddress } from "./address";

describe("parameters in an address", () => {
  it("come back as they were given, whatever stands in them", () => {
    const values = { start: "2026-09-01", "ship name": "Pell & Co. = 50%", note: "a\nb" };
    const address = addressWith("/queries/q", values);
    expect(valuesOfAddress(Object.fromEntries(new URL(address, "http://x").searchParams))).toEqual(values);
  });
  it("are left out where they are empty", () => expect(addressWith("/queries/q", { start: "" })).toBe("/queries/q"));
  it("are the first where one is given twice, and never longer than a value may be", () => {
    expect(valuesOfAddress({ a: ["1", "2"], b: undefined, c: "", d: "x".repeat(5000) })).toEqual({ a: "1", d: "x".repeat(2000) });
  });
});
