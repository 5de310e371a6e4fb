import { expect, it } from "vitest";
import { nextPlace } from "./useNextIssue";

it("goes from one issue to the next, around the end, and to the first from anywhere else", () => {
  expect([-1, 0, 1, 2].map((at) => nextPlace(at, 3))).toEqual([0, 1, 2, 0]);
});
