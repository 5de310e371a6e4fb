import { describe, expect, it } from "vitest";
import { decimal, type ValueType, whole } from "../types/valueType";
import { MISFIT, makerOf } from "./make";

const made = (type: ValueType, source: string, { comma = false, storage = "scaledInteger" as const } = {}) =>
  makerOf({ label: "c", type, storage: type.kind === "decimal" ? storage : "plain" }, { dates: "dmy" }, comma)(source);

describe("stored values made of a file's texts", () => {
  it.each<[ValueType, string, unknown]>([
    [whole, "12", 12n],
    [whole, "0", 0n],
    [whole, "007", 7n],
    [whole, "-5", -5n],
    [whole, "1.0", 1n],
    [whole, "1.5", MISFIT],
    [whole, "12345678901234567", 12_345_678_901_234_567n],
    [decimal(2), "1.5", 150n],
    [decimal(2), "1.500", 150n],
    [decimal(2), "1.505", MISFIT],
    [decimal(2), "1,234.50", 123_450n],
    [decimal(2), "1.", 100n],
    [decimal(12), "9999999.999999", 9_999_999_999_999_000_000n],
    [decimal(2), "abc", MISFIT],
    [{ kind: "date" }, "3/11/2026", "2026-11-03"],
    [{ kind: "date" }, "30/02/2026", MISFIT],
    [{ kind: "yesno" }, "yes", 1n],
    [{ kind: "text" }, " to the letter ", " to the letter "],
    [{ kind: "text" }, "", null],
    [whole, "", null],
  ])("%o of “%s”", (type, source, stored) => {
    expect(made(type, source)).toBe(stored);
  });
  it("are read with a decimal comma where the file writes one: a point sets thousands apart", () => {
    expect([made(decimal(2), "1.234", { comma: true }), made(decimal(2), "12,5", { comma: true }), made(whole, "12", { comma: true })]).toEqual([
      123_400n,
      1250n,
      12n,
    ]);
  });
  it("are the same the second time, and past the number of texts that are remembered", () => {
    const make = makerOf({ label: "c", type: { kind: "date" }, storage: "plain" }, { dates: "dmy" }, false);
    for (let again = 0; again < 2; again++) for (let year = 1000; year < 4000; year++) expect(make(`3/11/${year}`)).toBe(`${year}-11-03`);
    expect(make("30/02/2026")).toBe(MISFIT);
    expect(make("30/02/2026")).toBe(MISFIT);
  });
});
