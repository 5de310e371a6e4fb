import { expect, it } from "vitest";
import { looksLikeReference, nameLikeness } from "./likeness";
import { comparisons, type Link, plural, singular } from "./schema";

it.each<[string, string, string, number]>([
  ["shipper_id", "shipper", "id", 1],
  ["ShipperId", "shipper", "id", 1],
  ["from_harbour_id", "harbour", "id", 0.9],
  ["commodity_code", "commodity", "code", 1],
  ["shipper_code", "shipper", "name", 0.7],
  ["harbour", "harbours", "id", 0.8],
  ["shop", "shops", "shop name", 0.8],
  ["company_id", "companies", "id", 1],
  ["box", "boxes", "label", 0.8],
  ["clas", "class", "id", 0],
  ["n", "loan", "n", 0],
  ["harbour", "harbour", "id", 0.8],
  ["class", "rate", "class", 0.6],
  ["id", "shipper", "id", 0],
  ["delay_minutes", "crew", "id", 0],
])("%s speaks for %s.%s by %d", (column, table, far, likeness) => expect(nameLikeness(column, table, far)).toBe(likeness));

it("a reference without the table's name is known by its ending", () => {
  expect(["reports_to", "desk_officer_id", "entered_by", "pieces", "weight"].map(looksLikeReference)).toEqual([true, true, true, false, false]);
});

it("a link's comparisons turn round with the end they are seen from", () => {
  const link: Link = {
    id: "l",
    a: { table: "sale", columns: ["day", "region"], name: "sales", leadsTo: "many" },
    b: { table: "season", columns: ["begins", "region"], name: "season", leadsTo: "many" },
    operators: ["atLeast", "is"],
  };
  expect(comparisons(link, "b")).toEqual([
    { near: "day", operator: "atLeast", far: "begins" },
    { near: "region", operator: "is", far: "region" },
  ]);
  expect(comparisons(link, "a")[0]).toEqual({ near: "begins", operator: "atMost", far: "day" });
});

it("a table's label is said of one row and of many, whichever it is written for", () => {
  const ones = ["shipper", "company", "box", "class", "address", "purchase", "expense", "status", "analysis", "day", "key", "crew"];
  expect(
    ["shippers", "companies", "boxes", "classes", "addresses", "purchases", "expenses", "status", "analysis", "days", "keys", "crew"].map(singular),
  ).toEqual(ones);
  expect(ones.map(singular)).toEqual(ones);
  for (const one of ["shipper", "company", "box", "class", "day"]) expect(singular(plural(one))).toBe(one);
});
