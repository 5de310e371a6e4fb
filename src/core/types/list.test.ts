import { describe, expect, it } from "vitest";
import { moved, replaced } from "./list";

describe("a list as a person arranges it", () => {
  const list = ["a", "b", "c"];
  it("has a part moved past its neighbour, and stays where it cannot go further", () => {
    expect(moved(list, 0, 1)).toEqual(["b", "a", "c"]);
    expect(moved(list, 2, -1)).toEqual(["a", "c", "b"]);
    for (const [at, by] of [
      [0, -1],
      [2, 1],
      [-1, 1],
      [3, -1],
    ] as const)
      expect(moved(list, at, by)).toBe(list);
    expect(list).toEqual(["a", "b", "c"]);
  });
  it("has a part changed or taken out, the others as they are", () => {
    expect(replaced(list, 1, (x) => x + x)).toEqual(["a", "bb", "c"]);
    expect(replaced(list, 1, () => null)).toEqual(["a", "c"]);
    expect(replaced(list, 7, () => null)).toEqual(list);
  });
});
