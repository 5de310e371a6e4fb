import { describe, expect, test } from "vitest";
import { column } from "../../../test/support/sample";
import type { Table } from "../schema/schema";
import { decimal, text, whole, yesno } from "../types/valueType";
import { hasOneOfKeys, keysOnOneSide, readCommon, readShared, soughtKeys, tellingColumns } from "./onOneSide";

const columns = [column("shipper", text), column("part", whole), column("held", yesno)];

describe("what rows of one side have in common", () => {
  test("is a column that is empty in all of them, or has one value in every one", () => {
    expect(readCommon([4, 0, 0, null, 1, 4, 7, 2, 4, 0], columns)).toEqual([
      { column: columns[0], cell: null },
      { column: columns[1], cell: 7 },
    ]);
    // One value, but not in every row; a value that does not fit its column.
    expect(readCommon([4, 1, 3, "Pell", 1, 4, { misfit: "x" } as never, 1, 4, 1], columns)).toEqual([{ column: columns[2], cell: 1 }]);
  });
  test("is told where at most a tenth of the other rows have it, the rarest first; of two rows only what is empty", () => {
    const common = columns.map((c, i) => ({ column: c, cell: i === 0 ? null : 1 }));
    // 110 rows, 10 of which are looked at: the first is empty in 11 of the others, the second in 10, the third in none.
    expect(readShared(common, 10, [110, 21, 20, 10]).map((c) => [c.column.name, c.others])).toEqual([
      ["held", 0],
      ["part", 10],
    ]);
    expect(readShared(common, 2, [110, 2, 2, 2]).map((c) => c.column.name)).toEqual(["shipper"]);
    expect(readShared(common, 10, [10, 10, 10, 10])).toEqual([]);
  });
  test("is not asked of what rows are matched by or compared", () => {
    const table: Table = { name: "t", label: "t", key: [], rows: 0, columns };
    const compare = { here: "t", there: "u", key: [{ here: "part", there: "no" }], fields: [{ here: "held", there: "shipper" }], tolerance: "0" };
    expect(tellingColumns(table, compare, "here").map((c) => c.name)).toEqual(["shipper"]);
    expect(tellingColumns(table, compare, "there").map((c) => c.name)).toEqual(["part", "held"]);
  });
});

describe("keys of one side", () => {
  test("are asked for in order, and sought where no part is empty or does not fit", () => {
    const compare = { here: "a", there: "b", key: [{ here: "no", there: "no" }], fields: [], tolerance: "0" };
    const asked = keysOnOneSide({ source: "rows compared", compare, parameters: [] } as never, "there");
    expect(asked.conditions).toMatchObject([{ operator: "is", values: [{ text: "only there" }] }]);
    expect(asked.order).toEqual([{ column: "k0", direction: "up" }]);
    expect(
      soughtKeys([
        ["A", 1],
        [null, 1],
        ["B", { misfit: "x" } as never],
      ]),
    ).toEqual([["A", 1]]);
  });
  test("are one of a list, or each of several parts together; numbers are written as they are typed", () => {
    expect(hasOneOfKeys(["f"], { types: [decimal(2)], keys: [["1050"], ["-5"]] })).toMatchObject({
      operator: "oneOf",
      values: [{ text: "10.50" }, { text: "-0.05" }],
    });
    expect(hasOneOfKeys(["no", "part"], { types: [text, whole], keys: [["A", 1]] })).toMatchObject({
      holds: "any",
      of: [{ holds: "all", of: [{ values: [{ text: "A" }] }, { values: [{ text: "1" }] }] }],
    });
  });
});
