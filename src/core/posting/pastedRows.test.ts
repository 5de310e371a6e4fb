import { expect, it } from "vitest";
import { MOST_BLOCK_CELLS } from "./block";
import { pastedRows } from "./pastedRows";

const columns = ["mark", "yard_id", "price"].map((name) => ({ name, label: name.replace("_", " ") }));

it("stands in the table's order, or by the names of a first line, empty where a row is short", () => {
  expect(pastedRows([["a", "1"], ["b"], [" "]], columns)).toEqual({
    columns: [0, 1],
    texts: [
      ["a", "1"],
      ["b", ""],
    ],
  });
  expect(
    pastedRows(
      [
        ["Price", "MARK"],
        ["2", "a"],
      ],
      columns,
    ),
  ).toEqual({ columns: [2, 0], texts: [["2", "a"]] });
  expect(pastedRows([["yard_id"], ["3"]], columns)).toEqual({ columns: [1], texts: [["3"]] });
  // A first line in which only some are names is a row as well; so is one that names a column twice.
  expect(pastedRows([["mark", "x"]], columns)).toMatchObject({ texts: [["mark", "x"]] });
  expect(pastedRows([["mark", "mark"]], columns)).toMatchObject({ texts: [["mark", "mark"]] });
});
it("says what stands in the way", () => {
  expect(pastedRows([["a", "b", "c", "d"]], columns)).toEqual({ kind: "columnsBeyond", count: 1 });
  expect(pastedRows([["mark"], ["a", "b"]], columns)).toEqual({ kind: "columnsBeyond", count: 1 });
  expect([pastedRows([], columns), pastedRows([["mark"]], columns), pastedRows([[""]], columns)]).toEqual(Array(3).fill({ kind: "nothing" }));
  const many = Array.from({ length: MOST_BLOCK_CELLS / 2 + 1 }, () => ["a", "b"]);
  expect(pastedRows(many, columns)).toEqual({ kind: "tooMany", cells: MOST_BLOCK_CELLS + 2 });
});
