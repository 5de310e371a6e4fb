import { expect, it } from "vitest";
import { qualified, tableName, tableParts } from "./tableName";

it("a table's name tells its schema, whatever dots, quotes and backslashes stand in either", () => {
  expect(tableName("public", "consignment")).toBe("consignment");
  expect(tableName("sales", "order")).toBe("sales.order");
  expect(qualified("consignment")).toBe('"public"."consignment"');
  expect(qualified("sales.Fare Sale")).toBe('"sales"."Fare Sale"');
  for (const schema of ["public", "sales", "a.b", "a\\b", 'Q"s', "a\\.b"])
    for (const table of ["t", "t.u", ".t", "t\\", 'say "hi"', "Two Words"]) expect(tableParts(tableName(schema, table))).toEqual({ schema, table });
});
