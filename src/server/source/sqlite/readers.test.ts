import Database from "better-sqlite3";
import { afterAll, expect, it } from "vitest";
import type { Cell } from "@/core/types/valueType";
import { shownRows } from "../rows";
import { cellOf, readRows } from "./readers";

const db = new Database(":memory:");
afterAll(() => void db.close());

it("rows on screen carry the beginning of a long text and how long it is; figures, misfits and short texts as they are", () => {
  const long = "x".repeat(100_001);
  const rows: Cell[][] = [[long, "x".repeat(100_000), 12, null, { misfit: "5 bytes" }]];
  const [shown] = [...shownRows(rows)];
  expect(shown).toEqual([`${"x".repeat(1000)}… (100,001 characters)`, "x".repeat(100_000), 12, null, { misfit: "5 bytes" }]);
});
it("rows that hold more text than a page can show are refused in words before all of it is gathered", () => {
  let read = 0;
  const rows = function* (): Generator<Cell[]> {
    for (; read < 10_000; read++) yield ["x".repeat(100_000)];
  };
  expect(() => [...shownRows(rows())]).toThrow("more text than can be shown");
  expect(read).toBe(320);
});
it("a cell is exact beyond 2^53, its bytes are told by their number, and what is not whole in an exact column is refused", () => {
  expect(cellOf(9_007_199_254_740_993n, { kind: "whole" })).toBe("9007199254740993");
  expect(cellOf(12n, { kind: "whole" })).toBe(12);
  expect(cellOf(Buffer.from("abc"), { kind: "text" })).toEqual({ misfit: "3 bytes" });
  expect(cellOf(1.5, { kind: "floating" })).toBe(1.5);
  expect(() => cellOf(1.5, { kind: "decimal", scale: 2 })).toThrow("more than 18 digits");
});
it("a value that is invalid its column comes as it is stored, where its raw companion has it", () => {
  const columns = [{ id: "a", type: { kind: "whole" as const }, raw: 1 }];
  const read = (text: string) => [...readRows(db, { text, values: [], columns })];
  expect(read("SELECT NULL, 'soon' UNION ALL SELECT 3, NULL UNION ALL SELECT NULL, NULL")).toEqual([[{ misfit: "soon" }], [3], [null]]);
});
it("a value to be bound that has no room in 64 bits is refused, and the least and greatest are not", () => {
  const bound = (value: string) => {
    const values = [{ name: "p1", value, type: { kind: "whole" as const } }];
    return [...readRows(db, { text: "SELECT @p1", values, columns: [{ id: "a", type: { kind: "whole" }, raw: null }] })];
  };
  expect(bound("9223372036854775807")).toEqual([["9223372036854775807"]]);
  expect(bound("-9223372036854775808")).toEqual([["-9223372036854775808"]]);
  expect(() => bound("9223372036854775808")).toThrow("more than 18 digits");
});
