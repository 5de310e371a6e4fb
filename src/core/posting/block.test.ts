import { describe, expect, it } from "vitest";
import { MOST_BLOCK_CELLS, pastedBlock } from "./block";

const sheet = { rows: 6, columns: 4 };
const cell = (row: number, column: number, high = 1, wide = 1) => ({ top: row, bottom: row + high - 1, left: column, right: column + wide - 1 });

describe("a pasted block", () => {
  it("stands from the first selected cell on, whatever is selected besides", () => {
    const two = [["a", "b"], ["c"]];
    expect(pastedBlock(two, cell(1, 1), sheet)).toEqual({
      top: 1,
      left: 1,
      texts: [
        ["a", "b"],
        ["c", null],
      ],
    });
    expect(pastedBlock(two, cell(1, 1, 3, 2), sheet)).toMatchObject({
      texts: [
        ["a", "b"],
        ["c", null],
      ],
    });
  });
  it("is repeated where a whole number of it fills the selection", () => {
    expect(pastedBlock([["x"]], cell(0, 0, 2, 3), sheet)).toMatchObject({
      texts: [
        ["x", "x", "x"],
        ["x", "x", "x"],
      ],
    });
    expect(pastedBlock([["a", "b"]], cell(0, 0, 3, 4), sheet)).toMatchObject({ texts: Array.from({ length: 3 }, () => ["a", "b", "a", "b"]) });
    expect(pastedBlock([["a"], ["b"]], cell(0, 0, 4, 1), sheet)).toMatchObject({ texts: [["a"], ["b"], ["a"], ["b"]] });
  });
  it("does not reach beyond the sheet, and is not too large", () => {
    expect(pastedBlock([["a"], ["b"]], cell(5, 0), sheet)).toEqual({ kind: "rowsBeyond", count: 1 });
    expect(pastedBlock([["a"], ["b"]], cell(4, 3), sheet)).toMatchObject({ top: 4, left: 3 });
    expect(pastedBlock([["a", "b"]], cell(0, 3), sheet)).toEqual({ kind: "columnsBeyond", count: 1 });
    const large = { rows: 1e6, columns: 2 };
    expect(pastedBlock([["a"]], cell(0, 0, MOST_BLOCK_CELLS), large)).toMatchObject({ top: 0 });
    expect(pastedBlock([["a"]], cell(0, 0, MOST_BLOCK_CELLS + 1), large)).toEqual({ kind: "tooMany", cells: MOST_BLOCK_CELLS + 1 });
    expect(pastedBlock([], cell(0, 0), sheet)).toEqual({ kind: "nothing" });
  });
});
