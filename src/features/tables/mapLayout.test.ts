import { expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { arranged, heightOf, placesOf, portsOf, WIDTH } from "./mapLayout";

const places = arranged(sampleSchema);
const at = (name: string) => places.get(name) ?? { x: Number.NaN, y: Number.NaN };

it("names each link in the box it leads away from, so that no name stands on a line", () => {
  expect(portsOf(sampleSchema).get("stamp")).toEqual([{ link: "stamp.crate_id", words: "crate", far: "crate", made: false }]);
  const self = {
    ...sampleSchema,
    links: [
      ...sampleSchema.links,
      { ...sampleSchema.links[0], id: "own", madeBy: "person" as const, b: { table: "crate", columns: ["id"], name: "above", leadsTo: "one" as const } },
    ],
  } as typeof sampleSchema;
  expect(portsOf(self).get("crate")).toEqual([
    { link: "own", words: "above", far: "crate", made: true },
    { link: "crate.yard_id", words: "yard", far: "yard", made: false },
  ]);
});
it("runs links from left to right, and lets no two boxes overlap", () => {
  expect(at("stamp").x + WIDTH).toBeLessThan(at("crate").x);
  expect(at("crate").x + WIDTH).toBeLessThan(at("yard").x);
  const loose = { ...sampleSchema, links: [] };
  const rows = [...arranged(loose).values()];
  for (const [i, a] of rows.entries()) for (const b of rows.slice(i + 1)) expect(Math.abs(a.x - b.x) >= WIDTH || Math.abs(a.y - b.y) >= heightOf(0)).toBe(true);
});
it("keeps boxes where a person put them, and forgets tables that are gone", () => {
  const kept = placesOf(sampleSchema, { yard: { x: 7, y: 8 }, gone: { x: 1, y: 1 } });
  expect([kept.get("yard"), kept.get("crate"), kept.has("gone")]).toEqual([{ x: 7, y: 8 }, at("crate"), false]);
});
