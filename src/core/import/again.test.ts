import { expect, it } from "vitest";
import { date, text } from "../types/valueType";
import { headingsOf, readAgain } from "./again";
import type { ImportSpec } from "./spec";

const spec: ImportSpec = {
  format: { kind: "json" },
  misfits: "keep",
  into: { kind: "posting", target: "crate" },
  columns: [
    { name: "mark", type: text, dates: "ymd", left: false },
    { name: "lodged", type: date, dates: "dmy", left: false },
    { name: "remark", type: text, dates: "ymd", left: true },
  ],
};
const before = { spec, headings: ["Mark", "Day", "Remark"] };
const names = (headings: string[]) => readAgain(before, headings).spec.columns.map((c) => [c.name, c.left]);

it("finds columns by their headings, wherever they stand, and leaves others out", () => {
  expect(names(["DAY", "New", "mark"])).toEqual([
    ["lodged", false],
    ["New", true],
    ["mark", false],
  ]);
  expect(readAgain(before, ["Day", "Mark"]).spec.columns[0]).toMatchObject({ type: date, dates: "dmy" });
});
it("names what is missing, and nothing that was left out before", () => {
  expect(readAgain(before, ["Mark"]).missing).toEqual(["Day"]);
  expect(readAgain(before, ["Mark", "Day"]).missing).toEqual([]);
});
it("calls columns of a file without headings by their places", () => {
  expect(headingsOf(["a", "b"], false)).toEqual(["column 1", "column 2"]);
  expect(headingsOf(["a", "A"], true)).toEqual(["a", "A 2"]);
});
