import { expect, test } from "vitest";
import { markAfter } from "./walk";

const at = (series: number, place: number) => ({ series, place });

test.each([
  ["the first key begins at the first mark", "ArrowRight", null, [3, 3], at(0, 0)],
  ["right, one mark on", "ArrowRight", at(0, 1), [3, 3], at(0, 2)],
  ["right, no further than the last", "ArrowRight", at(0, 2), [3, 3], at(0, 2)],
  ["left, one mark back", "ArrowLeft", at(1, 2), [3, 3], at(1, 1)],
  ["left, no further than the first", "ArrowLeft", at(0, 0), [3, 3], at(0, 0)],
  ["down, the same place of the next series", "ArrowDown", at(0, 1), [3, 3], at(1, 1)],
  ["down, no further than the last series", "ArrowDown", at(1, 1), [3, 3], at(1, 1)],
  ["down, to the last mark of a series that has fewer", "ArrowDown", at(0, 2), [3, 2], at(1, 1)],
  ["up, the series before", "ArrowUp", at(1, 1), [3, 3], at(0, 1)],
  ["up, no further than the first series", "ArrowUp", at(0, 1), [3, 3], at(0, 1)],
  ["Home", "Home", at(1, 2), [3, 3], at(1, 0)],
  ["End", "End", at(1, 0), [3, 4], at(1, 3)],
  ["nowhere, by a key that does not walk", "Enter", at(0, 0), [3], null],
  ["nowhere, by a name every object has", "constructor", at(0, 0), [3], null],
  ["nowhere, where a chart is empty", "ArrowRight", null, [], null],
  ["nowhere, where the series reached has no marks", "ArrowDown", at(0, 0), [3, 0], null],
])("%s", (_, key, from, places, to) => {
  expect(markAfter(key, from, places)).toEqual(to);
});
