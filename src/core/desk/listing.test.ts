import { expect, test } from "vitest";
import { type Entry, FIRST_ASKED, foldersOf, type ListAsked, listItems, namesIn } from "./listing";

const entry = (id: string, name: string, more: Partial<Entry>): Entry => ({ id, name, words: "", note: "", folder: "", changed: "", pinned: false, ...more });
const items = [
  entry("a", "Freight 10", { words: "consignment island Pell", owner: "Mirela Voss", changed: "2026-11-01T10:00:00Z", folder: "Month end" }),
  entry("b", "Freight 9", { words: "freight_charge", changed: "2026-11-03T10:00:00Z", opened: "2026-11-04T10:00:00Z", note: "For the auditors" }),
  entry("c", "Énergie", { words: "fuel litres burnt", changed: "2026-11-02T10:00:00Z", opened: "2026-11-05T10:00:00Z", folder: "Board" }),
];
const ids = (asked: Partial<ListAsked>, of = items) =>
  listItems(of, { ...FIRST_ASKED, ...asked }, "en")
    .map((i) => i.id)
    .join("");
const sought = (words: string) => ids({ sought: words });

test("every word is sought, in name, note, folder, owner and what is named, whatever accents, case and strokes", () => {
  expect(["freight", "consignment PELL", "energie", "mirela freight", "freight fuel"].map(sought)).toEqual(["ba", "a", "c", "a", ""]);
  expect(["freight charge", "freight_charge", "litres_burnt", "auditors", "month"].map(sought)).toEqual(["b", "b", "c", "b", "a"]);
});
test("pinned ones come first, numbers in names by their size, dates the latest first, never opened last", () => {
  expect([ids({}), ids({ order: "changed" }), ids({ order: "opened" })]).toEqual(["cba", "bca", "cba"]);
  const pinned = items.map((i) => (i.id === "a" ? { ...i, pinned: true } : i));
  expect([ids({}, pinned), ids({ order: "opened" }, pinned), ids({ sought: "fuel" }, pinned)]).toEqual(["acb", "acb", "c"]);
});
test("a folder holds its own, none those that lie in none; folders are counted, none last", () => {
  expect([ids({ folder: "Board" }), ids({ folder: "" }), ids({ folder: "gone" })]).toEqual(["c", "b", ""]);
  expect(foldersOf([...items, entry("d", "D", { folder: "Board" })], "en")).toEqual([
    { folder: "Board", count: 2 },
    { folder: "Month end", count: 1 },
    { folder: "", count: 1 },
  ]);
});
test("a description names its fields, tables and words, however deep, and not how it is worked out", () => {
  const spec = {
    source: "consignment",
    columns: [{ id: "c1", value: { kind: "field", column: "weight" }, label: "Kilos", figure: "total" }],
    parts: [[{ text: "SUM(x)" }]],
  };
  expect(namesIn(spec)).toBe("consignment weight Kilos SUM(x)");
  expect(namesIn(null)).toBe("");
});
