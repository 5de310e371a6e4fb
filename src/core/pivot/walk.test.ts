import { describe, expect, it } from "vitest";
import { placeAfter } from "./walk";

const size = { lines: 100, columns: 6, page: 10 };
const landing = (key: string, line: number, column: number, far = false) => {
  const to = placeAfter(key, far, { line, column }, size);
  return to && [to.line, to.column];
};

describe("a key in a pivot's grid", () => {
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
  it("reaches the headings of lines and columns, and nothing beyond them", () => {
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
  it("goes to the beginning and the end of a line, or of all with Ctrl", () => {
    expect(landing("Home", 7, 3)).toEqual([7, -1]);
    expect(landing("End", 7, 3)).toEqual([7, 5]);
    expect(landing("Home", 7, 3, true)).toEqual([0, 0]);
    expect(landing("End", 7, 3, true)).toEqual([99, 5]);
  });
  it("is left to the page where it does not move", () => {
    expect(landing("Enter", 1, 1)).toBeNull();
    expect(landing("Tab", 1, 1)).toBeNull();
    // A name that every object has is no key.
    expect(landing("constructor", 1, 1)).toBeNull();
  });
});
