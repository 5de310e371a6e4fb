import { describe, expect, it } from "vitest";
import { addressWith, openedWith, readOpenedWith, valuesOfAddress } from "./address";

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

describe("what a page is opened with", () => {
  const hashOf = (address: string) => new URL(address, "http://x").hash;
  it("comes back, with its address as it was", () => {
    const pick = { part: "missing" as const, id: "shipper #1" };
    const control = { column: "c3", value: "91720.10", source: "the agent’s “list” 100%" };
    expect(openedWith("/queries/q?start=2026-10-01", { pick })).toMatch(/^\/queries\/q\?start=2026-10-01#/);
    expect(readOpenedWith(hashOf(openedWith("/queries/q", { pick })))).toEqual({ pick });
    expect(readOpenedWith(hashOf(openedWith("/queries/q", { control })))).toEqual({ control });
    expect(readOpenedWith(hashOf(openedWith("/queries/q", { control: { ...control, column: null } })))).toEqual({ control: { ...control, column: null } });
  });
  it.each([
    "",
    "#",
    "#main",
    "#%",
    "#null",
    "#%7B%7D",
    "#%7B%22pick%22%3A1%7D",
    "#%7B%22pick%22%3A%7B%22part%22%3A%22missing%22%7D%7D",
    "#%7B%22control%22%3A%7B%7D%7D",
  ])("is nothing where an address says %s", (hash) => expect(readOpenedWith(hash)).toBeNull());
});
