import { expect, it } from "vitest";
import { context } from "../../../test/support/printed";
import { sampleSchema } from "../../../test/support/sample";
import { emptyQuery } from "../query/empty";
import { placeInReport } from "./place";
import { newLevel, planReport } from "./plan";
import type { ReportSpec } from "./spec";

const parts = { left: "", center: "", right: "" };
const query = { ...emptyQuery("crate"), columns: ["mark", "price"].map((c) => ({ id: c, value: { kind: "field" as const, join: "", column: c } })) };
const spec: ReportSpec = {
  version: 2,
  query: "q",
  title: "T {mark",
  showBrief: false,
  levels: [{ ...newLevel("mark"), heading: "{UPPER(}" }],
  columns: [
    { id: "price", value: { kind: "field", column: "price" }, widthMm: null, when: "price + 1" },
    { id: "f", value: { kind: "formula", text: "nothing * 2" }, widthMm: null },
  ],
  lines: [{ id: "l", text: "", cells: { price: { kind: "formula", text: "SUM(price) / 'x'" } } }],
  passages: [{ id: "p", at: "start", text: "{gone}" }],
  shape: { kind: "table" },
  page: { paper: "A4", landscape: false, margins: { top: 140, right: 10, bottom: 140, left: 10 } },
  header: parts,
  footer: { ...parts, right: "{also gone}" },
  first: { header: { ...parts, left: "{x" }, footer: parts },
  parameters: {},
};

it("says of each problem where it stands, and which part of the page mends it", () => {
  const checked = planReport(spec, query, sampleSchema, context);
  if (checked.ok) throw new Error("no problems");
  const said = checked.problems.map((p) => {
    const { words, part } = placeInReport(p.path, spec, (id) => id);
    return [p.code, words, part?.kind];
  });
  expect(said).toContainEqual(["textBrace", "Title", "title"]);
  expect(said).toContainEqual(["textBrace", "First page, header", "header"]);
  expect(said).toContainEqual(["pageTooSmall", "Page", "label"]);
  expect(said).toContainEqual(["syntax", "Group 1, heading text", "heading"]);
  expect(said).toContainEqual(["unknownField", "Column f", "columnHeading"]);
  expect(said).toContainEqual(["unknownField", "Text 1", "passage"]);
  expect(said.filter(([, words]) => words === "").length).toBe(0);
});

it("says of a footing and a condition where they stand, once the rows can be told", () => {
  const { passages: _, ...rest } = spec;
  const mended = {
    ...rest,
    title: "T",
    first: undefined,
    footer: parts,
    page: { ...spec.page, margins: { top: 10, right: 10, bottom: 10, left: 10 } },
    levels: [],
    columns: [spec.columns[0] as ReportSpec["columns"][number]],
  };
  const wrong = planReport(mended, query, sampleSchema, context);
  expect(!wrong.ok && wrong.problems.map((p) => [p.code, placeInReport(p.path, mended, (id) => id).words])).toEqual([["reportCondition", "Column price"]]);
  const footing = { ...mended, columns: mended.columns.map((c) => ({ ...c, when: undefined })) };
  const divided = planReport(footing, query, sampleSchema, context);
  expect(!divided.ok && divided.problems.map((p) => placeInReport(p.path, footing, (id) => id).words)).toEqual(["Footing line 1, under price"]);
});
