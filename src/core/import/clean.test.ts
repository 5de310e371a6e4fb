import { expect, it } from "vitest";
import { date, text } from "../types/valueType";
import { isCleaned, proposedAgain, rowCleaner, withClean, withColumnClean } from "./clean";
import type { ImportColumn } from "./spec";

it("trims, reads values as others, and writes capitals, in this order; what is not cleaned stays to the letter", () => {
  const clean = rowCleaner([
    {
      trim: true,
      mapped: [
        { written: "n/a", text: "" },
        { written: "OAT HOLM", text: "oat holm" },
      ],
      case: "title",
    },
    undefined,
  ]);
  expect(clean(["  OAT \u00a0 HOLM ", " x "])).toEqual(["Oat Holm", " x "]);
  expect(clean([" n/a", ""])).toEqual(["", ""]);
  expect(rowCleaner([{ case: "upper" }])(["é x"])).toEqual(["É X"]);
  expect(rowCleaner([{ case: "lower" }])([])).toEqual([""]);
  const record = ["a"];
  expect(rowCleaner([{}])(record)).toBe(record);
});

it("fills down from the last row that had a value", () => {
  const clean = rowCleaner([{ down: true, mapped: [{ written: "-", text: "" }] }]);
  expect(["", "a", " ", "-", "b"].map((v) => clean([v])[0])).toEqual(["", "a", "a", "a", "b"]);
});

it("is left out of a description where it does nothing", () => {
  expect(withClean(undefined, { trim: true })).toEqual({ trim: true });
  expect(withClean({ trim: true }, { trim: false })).toBeUndefined();
  expect(withClean({ trim: true, case: "upper" }, { case: undefined })).toEqual({ trim: true });
  expect([isCleaned(undefined), isCleaned({}), isCleaned({ mapped: [] }), isCleaned({ down: true })]).toEqual([false, false, false, true]);
});

it("changes one column of a file, which has the type proposed anew unless another was chosen", () => {
  const columns: ImportColumn[] = ["a", "b"].map((name) => ({ name, type: text, dates: "ymd", left: false, clean: { trim: true } }));
  expect(withColumnClean(columns, 1, undefined).map((c) => c.clean)).toEqual([{ trim: true }, undefined]);
  const scanned = (type: typeof text | typeof date) => ({ names: ["a", "b"], columns: ["a", "b"].map(() => ({ proposal: { type, dates: "dmy" as const } })) });
  expect(proposedAgain(columns, 0, scanned(text), scanned(date))).toEqual([{ ...columns[0], type: date, dates: "dmy" }, columns[1]]);
  expect(proposedAgain(columns, 0, scanned(date), scanned(text))).toEqual(columns);
});
