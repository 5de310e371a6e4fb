import { describe, expect, it } from "vitest";
import { date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "@/core/types/valueType";
import { fieldsOf } from "./copyServer";
import { cellOf, UNFIT, valueReader, writtenReader } from "./values";

/* Values on their way into the columnar copy and out of it. */

const read = (type: ValueType, stored: unknown) => valueReader(type, () => {})(stored);

describe("what is stored", () => {
  it.each<[ValueType, unknown, string]>([
    [whole, 9007199254740993n, "9007199254740993"],
    [decimal(2), -5n, "-5"],
    [floating, 3n, "3"],
    [floating, 0.1, "0.1"],
    [yesno, 1n, "true"],
    [text, "Ærø", "Ærø"],
    [date, "2024-02-29", "2024-02-29"],
    [date, "1899-12-31", "1899-12-31"],
    [timestamp, "2026-01-31 23:59:59", "2026-01-31 23:59:59"],
    [timestamp, "1969-12-31 00:00:00.25", "1969-12-31 00:00:00.25"],
  ])("is read as its type: %j %s", (type, stored, written) => {
    expect(String(read(type, stored))).toBe(written);
  });
  it.each<[ValueType, unknown]>([
    [whole, 5],
    [whole, "5"],
    [yesno, 2n],
    [text, 5n],
    [text, Buffer.from("a")],
    [text, "a\0b"],
    [text, "a\uFFFDb"],
    [date, "2026-02-30"],
    [date, "2026-2-3"],
    [date, "2026-02-03 00:00:00"],
    [timestamp, "2026-02-30 10:00:00"],
    [timestamp, "2026-01-01 24:00:00"],
    [timestamp, "2026-01-01T10:00:00"],
    [floating, "0.1"],
    [floating, Number.POSITIVE_INFINITY],
  ])("or is no value of it: %j %s", (type, stored) => expect(read(type, stored)).toBe(UNFIT));
  it("tells of letters whose case is another's", () => {
    let told = 0;
    const reader = valueReader(text, () => told++);
    for (const plain of ["apple", "Éclair", "Žito", "50 €", "a “quote”"]) reader(plain);
    expect(told).toBe(0);
    for (const other of ["ΐ", "İstanbul", "ﬁn"]) reader(other);
    expect(told).toBe(3);
  });
});

describe("what a server writes", () => {
  const written = (type: ValueType, value: string) => writtenReader(type, () => {})(value);
  it.each<[ValueType, string, string]>([
    [whole, "-9223372036854775808", "-9223372036854775808"],
    [decimal(2), "12345", "12345"],
    [yesno, "f", "false"],
    [floating, "1e-7", "1e-7"],
    [date, "1899-12-31", "1899-12-31"],
    [timestamp, "1969-12-31 23:59:59.123456", "1969-12-31 23:59:59.123456"],
    [timestamp, "2026-11-23 10:00:00.5", "2026-11-23 10:00:00.5"],
  ])("is read as its type: %j %s", (type, value, expected) => expect(String(written(type, value))).toBe(expected));
  it.each<[ValueType, string]>([
    [whole, "9223372036854775808"],
    [whole, "1.5"],
    [decimal(2), "NaN"],
    [yesno, "true"],
    [floating, "NaN"],
    [date, "infinity"],
    [date, "0044-03-15 BC"],
    [timestamp, "2026-11-23 10:00:00.1234567"],
    [text, "a\uFFFDb"],
  ])("or is none of it: %j %s", (type, value) => expect(written(type, value)).toBe(UNFIT));
  it("comes in lines whose values have no tab, end of line or backslash as it is", () => {
    expect(fieldsOf("a\\\\b\t\\N\t\t\\\\N\tx\\ty\\nz\\rü")).toEqual(["a\\b", null, "", "\\N", "x\ty\nz\rü"]);
  });
});

it("an answer is a cell as the database would give it", () => {
  expect([cellOf(5n, whole), cellOf(2n ** 62n, whole), cellOf(true, yesno), cellOf(null, text), cellOf(0.5, floating)]).toEqual([
    5,
    "4611686018427387904",
    1,
    null,
    0.5,
  ]);
  expect(() => cellOf(2n ** 63n, whole)).toThrow();
  expect(cellOf(-(2n ** 63n), whole)).toBe("-9223372036854775808");
  expect(() => cellOf(0.5, whole)).toThrow(TypeError);
});
