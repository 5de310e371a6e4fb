import { expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { findTable, type Table } from "../schema/schema";
import { text } from "../types/valueType";
import { pairsByValues, valueCandidates } from "./valuePairs";

const column = (name: string) => ({ name, label: name, type: text, storage: "plain" as const, nullable: true, misfits: 0 });
const source: Table = { name: "rows", label: "file", columns: [column("Where"), column("What"), column("Mark")], key: [], rows: 3 };
const crate = findTable(sampleSchema, "crate") as Table;
const pairs = [{ column: "mark", value: { kind: "field" as const, name: "Mark" } }];

it("offers texts that are not paired to open texts, and to links by the texts of the rows they lead to", () => {
  const found = valueCandidates(source, crate, sampleSchema, pairs);
  expect(found.map((c) => [c.from, c.column, c.found?.by, c.among.table])).toEqual([
    ["Where", "yard_id", "name", "yard"],
    ["What", "yard_id", "name", "yard"],
  ]);
  expect(valueCandidates(source, crate, sampleSchema, []).filter((c) => c.column === "mark").length).toBe(3);
});

it("pairs what most values are found in, each column once; nothing where values say little", () => {
  const found = valueCandidates(source, crate, sampleSchema, pairs);
  expect(pairsByValues(found, [0.4, 0.9])).toEqual([{ column: "yard_id", value: { kind: "field", name: "What" }, found: found[1]?.found }]);
  expect(pairsByValues(found, [0.9, 0.8]).map((p) => p.value)).toEqual([{ kind: "field", name: "Where" }]);
  expect(pairsByValues(found, [0.49, 0])).toEqual([]);
});
