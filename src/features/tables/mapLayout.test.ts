import { describe, expect, it } from "vitest";
import type { Schema } from "@/core/schema/schema";
import { arranged, HEIGHT, pathThrough, WIDTH } from "./mapLayout";

const table = (name: string) => ({ name, label: name, columns: [], key: [], rows: 1 });
const link = (a: string, b: string, name = b, madeBy = "database") =>
  ({ id: `${a} ${b} ${name}`, a: { table: a, name: `${a}s` }, b: { table: b, name }, on: [], madeBy }) as unknown as Schema["links"][number];
const schemaOf = (tables: string[], links: Schema["links"]) => ({ tables: tables.map(table), links }) as unknown as Schema;

const schema = schemaOf(
  ["consignment", "shipper", "commodity", "sailing", "route", "vessel", "crew", "harbour", "rate", "manifest"],
  [
    link("consignment", "shipper"),
    link("consignment", "commodity"),
    link("consignment", "sailing"),
    link("sailing", "route"),
    link("sailing", "vessel", "vessel", "person"),
    link("route", "harbour", "from harbour"),
    link("route", "harbour", "to harbour"),
    link("shipper", "crew", "desk officer"),
    link("crew", "harbour", "home harbour"),
    link("crew", "crew", "reports to"),
  ],
);

type Box = { x: number; y: number; w: number; h: number };
const apart = (a: Box, b: Box) => Math.abs(a.x - b.x) >= (a.w + b.w) / 2 - 0.01 || Math.abs(a.y - b.y) >= (a.h + b.h) / 2 - 0.01;

describe("the map of tables", () => {
  const { places, lines } = arranged(schema);
  it("has every table once and no two over each other, those without a link below", () => {
    expect([...places.keys()].sort()).toEqual(schema.tables.map((t) => t.name).sort());
    const boxes = [...places.values()].map((p) => ({ ...p, w: WIDTH, h: HEIGHT }));
    boxes.forEach((a, i) => boxes.slice(i + 1).forEach((b) => expect(apart(a, b)).toBe(true)));
    const lowest = Math.max(...lines.flatMap((l) => [places.get(l.a)?.y ?? 0, places.get(l.b)?.y ?? 0]));
    for (const alone of ["rate", "manifest"]) expect(places.get(alone)?.y).toBeGreaterThan(lowest);
  });
  it("keeps room for the names of links: none lies over another or over a table", () => {
    const names = lines.map((l) => ({ ...l.at, w: l.words.length * 6, h: 12 }));
    names.forEach((a, i) => names.slice(i + 1).forEach((b) => expect(apart(a, b)).toBe(true)));
    for (const name of names) for (const p of places.values()) expect(apart(name, { ...p, w: WIDTH, h: HEIGHT })).toBe(true);
  });
  it("draws links between the same tables as one line with all their names, from the many to the one", () => {
    expect(lines.find((l) => l.a === "route")?.words).toBe("from harbour, to harbour");
    expect(lines.some((l) => l.a === l.b)).toBe(false);
    expect(lines.filter((l) => l.made).map((l) => l.b)).toEqual(["vessel"]);
    for (const l of lines) {
      expect(l.points[0]?.x).toBe((places.get(l.a)?.x ?? 0) + WIDTH / 2);
      expect(l.points.at(-1)?.x).toBe((places.get(l.b)?.x ?? 0) - WIDTH / 2);
    }
  });
  it("is a row of its own where nothing is linked, and nothing where there are no tables", () => {
    const alone = arranged(schemaOf(["a", "b", "c", "d", "e"], []));
    expect(new Set([...alone.places.values()].map((p) => p.y)).size).toBe(2);
    expect(arranged(schemaOf([], []))).toEqual({ places: new Map(), lines: [] });
  });
  it("rounds a line at its bends", () => {
    expect(pathThrough([])).toBe("");
    expect(
      pathThrough([
        { x: 0, y: 0 },
        { x: 4, y: 2 },
      ]),
    ).toBe("M 0 0  L 4 2");
    expect(
      pathThrough([
        { x: 0, y: 0 },
        { x: 4, y: 2 },
        { x: 8, y: 2 },
      ]),
    ).toBe("M 0 0 Q 4 2 6 2 L 8 2");
  });
});
