import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { tableNameOf } from "../import/propose";
import { SUBJECT_FORMATS, SUBJECTS } from "../schedule/choices";
import { firstSchedule } from "../schedule/first";
import { scheduleSpecSchema } from "../schedule/spec";
import { findTable, type Table } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { derivedType } from "./derive";
import { firstDefinition } from "./first";
import { derivedFieldSchema } from "./spec";

const table = (name: string) => findTable(sampleSchema, name) as Table;
const type = (of: string, kind: "lookup" | "rollup") => {
  const definition = firstDefinition(kind, table(of), sampleSchema);
  return definition && derivedType({ table: of, definition }, sampleSchema, usualDay("2026-11-24"));
};

describe("what is offered first", () => {
  it("as a derived field is one that works: a value looked up, a count of rows, an empty formula", () => {
    expect(type("crate", "lookup")).toMatchObject({ kind: "text" });
    expect(type("crate", "rollup")).toMatchObject({ kind: "whole" });
    expect(firstDefinition("formula", table("stamp"), sampleSchema)).toEqual({ kind: "formula", text: "" });
    for (const kind of ["lookup", "rollup"] as const)
      expect(derivedFieldSchema.safeParse({ version: 1, table: "crate", definition: firstDefinition(kind, table("crate"), sampleSchema) }).success).toBe(true);
  });
  it("is none where no link leads to one, or to many", () => {
    expect(firstDefinition("lookup", table("yard"), sampleSchema)).toBe(null);
    expect(firstDefinition("rollup", table("stamp"), sampleSchema)).toBe(null);
    expect(firstDefinition("rollup", table("crate"), { ...sampleSchema, links: [] })).toBe(null);
  });
  it("as a schedule is each working day at seven from now on, in a form its subject can be made into", () => {
    for (const kind of SUBJECTS) {
      const schedule = firstSchedule({ kind, id: "x" }, "Europe/Paris", new Date("2026-11-24T08:00:00Z"));
      expect(scheduleSpecSchema.safeParse(schedule).success).toBe(true);
      expect(SUBJECT_FORMATS[kind]).toContain(schedule.formats[0]);
      expect([schedule.rule.kind, schedule.time, schedule.since]).toEqual(["workingDays", "07:00", "2026-11-24T08:00:00.000Z"]);
    }
  });
  it.each([
    ["Inspections 2026.csv", "inspections_2026"],
    ["ship-no, list.v2.xlsx", "ship_no_list_v2"],
    ["Łódź__harbour.json", "łódź_harbour"],
    ["...csv", "table"],
    ["", "table"],
  ])("as the name of a table of the file %s is %s", (file, name) => expect(tableNameOf(file)).toBe(name));
});
