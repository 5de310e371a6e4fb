import { describe, expect, it } from "vitest";
import { isWithin, laidOutPlace, placeAfter, rangeBetween, rowsAbove, rowsLaidOut } from "./gridWalk";

const size = { rows: 100, columns: 6, firstColumn: -1 as 0 | -1, page: 10 };
const landing = (key: string, row: number, column: number, far = false, of = size) => {
  const to = placeAfter(key, far, { row, column }, of);
  return to && [to.row, to.column];
};

describe("a key in a grid", () => {
  it("moves by one, and to the end with Ctrl", () => {
    expect(landing("ArrowDown", 3, 2)).toEqual([4, 2]);
    expect(landing("ArrowUp", 3, 2)).toEqual([2, 2]);
    expect(landing("ArrowRight", 3, 2)).toEqual([3, 3]);
    expect(landing("ArrowLeft", 3, 2)).toEqual([3, 1]);
    expect(landing("ArrowDown", 3, 2, true)).toEqual([99, 2]);
    expect(landing("ArrowUp", 3, 2, true)).toEqual([0, 2]);
    expect(landing("ArrowRight", 3, 2, true)).toEqual([3, 5]);
    expect(landing("ArrowLeft", 3, 2, true)).toEqual([3, 0]);
  });
  it("reaches the headings of rows and columns, and nothing beyond them", () => {
    expect(landing("ArrowUp", 0, 0)).toEqual([-1, 0]);
    expect(landing("ArrowUp", -1, 0)).toEqual([-1, 0]);
    expect(landing("ArrowLeft", 0, 0)).toEqual([0, -1]);
    expect(landing("ArrowLeft", 0, -1)).toEqual([0, -1]);
    expect(landing("ArrowDown", 99, 5)).toEqual([99, 5]);
    expect(landing("ArrowRight", 99, 5)).toEqual([99, 5]);
  });
  it("moves by what is in sight, and stays among the figures", () => {
    expect(landing("PageDown", 5, 1)).toEqual([15, 1]);
    expect(landing("PageDown", 95, 1)).toEqual([99, 1]);
    expect(landing("PageUp", 15, 1)).toEqual([5, 1]);
    expect(landing("PageUp", 5, 1)).toEqual([0, 1]);
  });
  it("goes to the beginning and the end of a row, or of all with Ctrl", () => {
    expect(landing("Home", 7, 3)).toEqual([7, -1]);
    expect(landing("End", 7, 3)).toEqual([7, 5]);
    expect(landing("Home", 7, 3, true)).toEqual([0, 0]);
    expect(landing("End", 7, 3, true)).toEqual([99, 5]);
  });
  it("does not leave the cells of a grid whose rows have no headings", () => {
    const plain = { ...size, firstColumn: 0 as const };
    expect(landing("ArrowLeft", 3, 0, false, plain)).toEqual([3, 0]);
    expect(landing("Home", 3, 4, false, plain)).toEqual([3, 0]);
    expect(landing("ArrowUp", 0, 2, false, plain)).toEqual([-1, 2]);
  });
  it("is left to the page where it does not move", () => {
    expect(landing("Enter", 1, 1)).toBeNull();
    expect(landing("Tab", 1, 1)).toBeNull();
    // A name that every object has is no key.
    expect(landing("constructor", 1, 1)).toBeNull();
  });
});

describe("a block of cells", () => {
  const range = rangeBetween({ row: 5, column: 1 }, { row: 2, column: 3 });
  it("is the same from whichever corner", () => {
    expect(range).toEqual({ top: 2, bottom: 5, left: 1, right: 3 });
    expect(rangeBetween({ row: 2, column: 3 }, { row: 5, column: 1 })).toEqual(range);
    expect(rangeBetween({ row: 2, column: 1 }, { row: 5, column: 3 })).toEqual(range);
  });
  it("has its edges within, and nothing beyond them", () => {
    const within = (row: number, column: number) => isWithin(range, row, column);
    expect([within(2, 1), within(5, 3), within(3, 2)]).toEqual([true, true, true]);
    expect([within(1, 2), within(6, 2), within(3, 0), within(3, 4)]).toEqual([false, false, false, false]);
    expect(isWithin(null, 3, 2)).toBe(false);
  });
});

describe("a sheet of more rows than can be laid out", () => {
  it("is laid out whole up to a million", () => {
    expect(rowsLaidOut(999_999)).toBe(999_999);
    expect(rowsAbove(999_970, 30, 1_000_000)).toBe(0);
    expect(laidOutPlace(777_777, 1_000_000)).toBe(777_777);
  });
  it("shows the first rows at its top and the last ones at its end", () => {
    const rows = 5_000_000;
    expect(rowsAbove(0, 30, rows)).toBe(0);
    const topmost = rowsLaidOut(rows) - 30;
    expect(topmost + rowsAbove(topmost, 30, rows) + 30).toBe(rows);
    expect([laidOutPlace(0, rows), laidOutPlace(rows - 1, rows)]).toEqual([0, rowsLaidOut(rows) - 1]);
  });
  it("goes down without ever going back", () => {
    let was = -1;
    for (let topmost = 0; topmost <= 999_970; topmost += 33_319) {
      const first = topmost + rowsAbove(topmost, 30, 3_141_592);
      expect(first).toBeGreaterThan(was);
      was = first;
    }
  });
});
