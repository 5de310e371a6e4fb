import { expect, test } from "vitest";
import { date, decimal, text } from "../types/valueType";
import { operatorsLike } from "./operators";

test("comparisons that take the same kind of values stand in for each other: a day is no period, one value is not two", () => {
  expect(operatorsLike("less", decimal(2))).toEqual(["is", "isNot", "less", "atMost", "greater", "atLeast"]);
  expect(operatorsLike("contains", text)).toContain("notBeginsWith");
  expect(operatorsLike("during", date)).toEqual(["during", "notDuring"]);
  expect(operatorsLike("atLeast", date)).not.toContain("during");
  expect(operatorsLike("between", date)).toEqual(["between", "notBetween"]);
});
