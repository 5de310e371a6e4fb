import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { findTable, type Table } from "../schema/schema";
import type { Cell } from "../types/valueType";
import { keyOfRow, sheetColumns, typedOver } from "./typeOver";

const crate = findTable(sampleSchema, "crate") as Table;
const ids = ["id", "mark", "day", "price", "ratio", "sealed", "gone"];
const columns = sheetColumns(crate, ids);
const cells: Cell[] = [7, "a b", "2026-01-31", "1250", 0.1, 1, null];
const texts = (row: Cell[] | undefined) => ids.map((_, at) => typedOver(columns, row, at));

describe("a cell that is typed over", () => {
  it("begins with its value as it is stored, not as it is shown", () => {
    // The crate's number is given by the database; a column that the table does not have cannot be typed over.
    expect(texts(cells)).toEqual([null, "a b", "2026-01-31", "12.50", "0.1", "yes", null]);
  });
  it("begins empty where it holds nothing, and with what it holds where that is invalid", () => {
    expect(texts([7, null, { misfit: "31.13.2026" }, { misfit: "much" }, null, null, null])).toEqual([null, "", "31.13.2026", "much", "", "", null]);
  });
  it("cannot be typed over before it is here, nor where it is worked out", () => {
    expect(texts(undefined)).toEqual(ids.map(() => null));
    const worked = columns.map((c) => c && { ...c, generated: true });
    expect(worked.map((_, at) => typedOver(worked, cells, at))).toEqual(ids.map(() => null));
  });
});

describe("the key of a row in a sheet", () => {
  it("is read from the key's columns, in the key's order, wherever they stand", () => {
    const two: Table = { ...crate, key: ["mark", "id"] };
    expect(keyOfRow(two, columns, cells)).toEqual(["a b", 7]);
    expect(keyOfRow(crate, columns, cells)).toEqual([7]);
  });
  it("finds no row where it is not here, not shown, or no value of its type", () => {
    expect(keyOfRow(crate, columns, undefined)).toEqual([""]);
    expect(keyOfRow({ ...crate, key: ["at"] }, columns, cells)).toEqual([""]);
    expect(keyOfRow(crate, columns, [{ misfit: "seven" }])).toEqual([""]);
  });
});
