import { expect, it } from "vitest";
import { findOffers, type Offer } from "./find";

const offer = (name: string, kind = "query", of?: string): Offer => ({ key: `${kind} ${name}`, name, kind, act: () => {}, ...(of ? { of } : {}) });
const offers = [
  offer("Freight statement", "report"),
  offer("Skarrow Timber", "shipper"),
  offer("Café lists"),
  offer("status", "column", "consignment"),
  offer("status", "column", "sailing"),
];
const names = (words: string) => findOffers(offers, words).map((o) => o.name);

it("finds by name, also with a typing error or without accents; without words all stand in their order", () => {
  expect(names("  ")).toEqual(offers.map((o) => o.name));
  expect(names("freigth")[0]).toBe("Freight statement");
  expect(names("skarow timbr")[0]).toBe("Skarrow Timber");
  expect(names("cafe")[0]).toBe("Café lists");
  expect(names("xyzzy")).toEqual([]);
});
it("tells columns of one name apart by their table", () => {
  expect(findOffers(offers, "status sailing").map((o) => o.of)).toContain("sailing");
});
