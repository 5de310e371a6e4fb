import { readdirSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";
import type { Cell } from "@/core/types/valueType";
import { temporaryFolder } from "../../../../test/support/ledger";
import { KeptRows } from "./keptRows";

/** Rows of every kind of cell, how often they were asked for, and how many were taken of the database. */
function asked(count: number) {
  const seen = { times: 0, taken: 0 };
  const row = (n: number): Cell[] => [n, `text ${n}`, null, "9007199254740993", n / 7, { misfit: `no ${n}` }];
  const rows = Array.from({ length: count }, (_, n) => row(n));
  const ask = function* () {
    seen.times++;
    for (let n = 0; n < count; n++) {
      seen.taken++;
      yield row(n);
    }
  };
  return { seen, rows, ask };
}

it.each([
  ["few, in memory", 100, 1000],
  ["none of them in memory", 2500, 0],
  ["some in memory, the others in a file", 3001, 600],
  ["none at all", 0, 10],
])("rows are asked for once, and are the same each time: %s", (_, count, cells) => {
  const { folder, remove } = temporaryFolder();
  const { seen, rows, ask } = asked(count);
  const kept = new KeptRows(ask, cells, folder);
  expect([...kept]).toEqual(rows);
  expect([...kept]).toEqual(rows);
  // Two go through them side by side.
  const [a, b] = [kept[Symbol.iterator](), kept[Symbol.iterator]()];
  expect(rows.flatMap(() => [a.next().value, b.next().value])).toEqual(rows.flatMap((r) => [r, r]));
  expect(seen).toEqual({ times: 1, taken: count });
  // The file has no name.
  expect(readdirSync(folder)).toEqual([]);
  remove();
});

it.each([0, 1000])("rows that were not taken to the end, or are being taken, are asked for again (%i cells in memory)", (cells) => {
  const { seen, rows, ask } = asked(10);
  const kept = new KeptRows(ask, cells);
  for (const row of kept) if (row[0] === 4) break;
  expect(seen).toEqual({ times: 1, taken: 5 });
  const first = kept[Symbol.iterator]();
  first.next();
  expect([...kept]).toEqual(rows);
  expect(seen.times).toBe(3);
  expect([...first]).toEqual(rows.slice(1));
  expect([...kept]).toEqual(rows);
  expect(seen.times).toBe(3);
});

it("rows for which there is no room are asked for each time", () => {
  const { folder, remove } = temporaryFolder();
  const { seen, rows, ask } = asked(1200);
  const kept = new KeptRows(ask, 6, join(folder, "gone"));
  expect([...kept]).toEqual(rows);
  expect([...kept]).toEqual(rows);
  expect(seen.times).toBe(2);
  remove();
});
