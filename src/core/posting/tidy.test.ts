import { expect, it } from "vitest";
import type { Table } from "../schema/schema";
import { text, whole } from "../types/valueType";
import { type Tidy, tidyFormula, tidyPosting } from "./tidy";

const column = (name: string, type: typeof text | typeof whole) => ({ name, label: name, type, storage: "plain" as const, nullable: true, misfits: 0 });
const mark = column("the mark", text);

it("tidies texts by formulas that a person can read on", () => {
  const replace = (more: object) =>
    tidyFormula({ kind: "replace", find: "it's", instead: "x", whole: false, ...more } as Exclude<Tidy, { kind: "down" }>, mark);
  expect(tidyFormula({ kind: "trim" }, mark)).toBe('TRIM("the mark")');
  expect(tidyFormula({ kind: "title" }, column("name", text))).toBe("INITCAP(name)");
  expect(replace({})).toBe(`REPLACE("the mark", 'it''s', 'x')`);
  expect(replace({ whole: true })).toBe(`CASE WHEN "the mark" = 'it''s' THEN 'x' ELSE "the mark" END`);
  expect(replace({ whole: true, instead: "" })).toBe(`CASE WHEN "the mark" = 'it''s' THEN NULL ELSE "the mark" END`);
  expect(tidyFormula({ kind: "replace", find: " €", instead: "", whole: false }, column("fee", whole))).toBe("REPLACE(CAST(fee AS TEXT), ' €', '')");
});

it("changes the rows of the table itself, by their key", () => {
  const table: Table = { name: "crate", label: "crate", columns: [column("id", whole), mark], key: ["id"], rows: 1 };
  expect(tidyPosting({ kind: "lower" }, table, mark)).toMatchObject({
    source: { kind: "table", table: "crate" },
    action: "change",
    target: "crate",
    same: ["id"],
    pairs: [{ column: "id" }, { column: "the mark", value: { text: 'LOWER("the mark")' } }],
  });
});
