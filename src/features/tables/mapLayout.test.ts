import { expect, it } from "vitest";
import type { Schema } from "@/core/schema/schema";
import { sampleSchema } from "../../../test/support/sample";
import { arranged, columnHandle, columnOfHandle, HEAD, heightOf, placesOf, portAt, portsOf, WIDTH } from "./mapLayout";

const places = arranged(sampleSchema);
const at = (name: string) => places.get(name) ?? { x: Number.NaN, y: Number.NaN };

it("knows the column that a line is drawn from or to, and none of a box itself", () => {
  expect([columnHandle("yard_id"), "new", "crate.yard_id", null, undefined].map(columnOfHandle)).toEqual([
    "yard_id",
    undefined,
    undefined,
    undefined,
    undefined,
  ]);
});
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
it("runs links from left to right", () => {
  expect(at("stamp").x + WIDTH).toBeLessThan(at("crate").x);
  expect(at("crate").x + WIDTH).toBeLessThan(at("yard").x);
});

const plain = (name: string) => ({ name, label: name, columns: [], key: [], rows: 1 });
const link = (a: string, b: string, name = b) => ({ id: `${a} ${b} ${name}`, a: { table: a, name: `${a}s` }, b: { table: b, name } });
const schemaOf = (tables: string[], links: object[]) => ({ tables: tables.map(plain), links }) as unknown as Schema;
const wide = schemaOf(
  ["consignment", "shipper", "commodity", "sailing", "route", "vessel", "crew", "harbour", "rate", "manifest"],
  [
    link("consignment", "shipper"),
    link("consignment", "commodity"),
    link("consignment", "sailing"),
    link("sailing", "route"),
    link("sailing", "vessel"),
    link("route", "harbour", "from harbour"),
    link("route", "harbour", "to harbour"),
    link("shipper", "crew", "desk officer"),
    link("crew", "harbour", "home harbour"),
    link("crew", "crew", "reports to"),
  ],
);

it("has every table once and no two over each other, those without a link below", () => {
  const [all, ports] = [arranged(wide), portsOf(wide)];
  expect([...all.keys()].sort()).toEqual(wide.tables.map((t) => t.name).sort());
  const boxes = [...all].map(([name, p]) => ({ ...p, name, high: heightOf(ports.get(name)?.length ?? 0) }));
  for (const [i, a] of boxes.entries())
    for (const b of boxes.slice(i + 1))
      expect([a.name, b.name, a.x + WIDTH <= b.x || b.x + WIDTH <= a.x || a.y + a.high <= b.y || b.y + b.high <= a.y]).toEqual([a.name, b.name, true]);
  const lowest = Math.max(...boxes.flatMap((box) => (["rate", "manifest"].includes(box.name) ? [] : [box.y + box.high])));
  for (const alone of ["rate", "manifest"]) expect(all.get(alone)?.y).toBeGreaterThan(lowest);
});
it("begins each line within its box, one under the other", () => {
  const begins = [0, 1, 2].map(portAt);
  expect(begins.every((y, i) => y > (begins[i - 1] ?? HEAD) && y < heightOf(3))).toBe(true);
});
it("is rows of their own where nothing is linked, and nothing where there are no tables", () => {
  const alone = [...arranged(schemaOf(["a", "b", "c", "d", "e"], [])).values()];
  expect(new Set(alone.map((p) => p.y)).size).toBe(2);
  expect(arranged(schemaOf([], []))).toEqual(new Map());
});
it("keeps boxes where a person put them, and forgets tables that are gone", () => {
  const kept = placesOf(sampleSchema, { yard: { x: 7, y: 8 }, gone: { x: 1, y: 1 } });
  expect([kept.get("yard"), kept.get("crate"), kept.has("gone")]).toEqual([{ x: 7, y: 8 }, at("crate"), false]);
});
