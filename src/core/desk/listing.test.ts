import { expect, test } from "vitest";
import { type ListOrder, listItems } from "./listing";

const items = [
  { id: "a", name: "Freight 10", about: "From consignment, where island is Pell" },
  { id: "b", name: "Freight 9", about: "From consignment" },
  { id: "c", name: "Énergie", about: "From fuel" },
];
const dates = {
  a: { changed: "2026-11-01T10:00:00Z", owner: "Mirela Voss" },
  b: { changed: "2026-11-03T10:00:00Z", opened: "2026-11-04T10:00:00Z" },
  c: { changed: "2026-11-02T10:00:00Z", opened: "2026-11-05T10:00:00Z" },
};
const ids = (sought: string, order: ListOrder = "name", of = dates as Parameters<typeof listItems>[1]) =>
  listItems(items, of, sought, order, "en")
    .map((i) => i.id)
    .join("");

test("every word is sought, in name, description and owner, whatever accents and case", () => {
  expect([ids("freight"), ids("consignment PELL"), ids("energie"), ids("mirela freight"), ids("freight fuel")]).toEqual(["ba", "a", "c", "a", ""]);
});
test("pinned ones come first, numbers in names by their size, dates the latest first, never opened last", () => {
  expect([ids(""), ids("", "changed"), ids("", "opened"), ids("", "name", {})]).toEqual(["cba", "bca", "cba", "cba"]);
  const pinned = { ...dates, a: { ...dates.a, pinned: true } };
  expect([ids("", "name", pinned), ids("", "opened", pinned), ids("fuel", "name", pinned)]).toEqual(["acb", "acb", "c"]);
});
