import { join } from "node:path";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { temporaryFolder } from "../../../../test/support/ledger";
import { everyOutcome, PreviewWriter, previewRows } from "./preview";

let place: ReturnType<typeof temporaryFolder>;
beforeEach(() => {
  place = temporaryFolder();
});
afterEach(() => place.remove());

const KINDS = ["add", "differs", "there"];
const row = (n: number) => ({ n, outcome: KINDS[n % 7 === 0 ? 1 : n > 450 ? 2 : 0] as string, cells: [`“${n}”`], posting: null });

describe("the outcomes of a preview, kept in parts", () => {
  const steps = [Array.from({ length: 923 }, (_, i) => row(i + 1)), Array.from({ length: 5 }, (_, i) => row(i + 1)), []];
  it("are looked at a page at a time: of a step, of some outcomes, forwards and backwards", () => {
    const path = join(place.folder, "preview.sqlite");
    const writer = new PreviewWriter(path);
    steps.forEach((rows, step) => {
      const emit = writer.emitIn(step);
      for (const r of rows) emit(r);
    });
    writer.finish();
    fc.assert(
      fc.property(
        fc.constantFrom(0, 1, 2),
        fc.subarray([...KINDS, "refused"]),
        fc.integer({ min: 0, max: 950 }),
        fc.integer({ min: 1, max: 430 }),
        fc.boolean(),
        (step, outcomes, offset, rows, backwards) => {
          const all = (steps[step] ?? []).filter((r) => outcomes.length === 0 || outcomes.includes(r.outcome));
          const wanted = (backwards ? [...all].reverse() : all).slice(offset, offset + rows);
          expect(JSON.parse(previewRows(path, { step, outcomes, offset, rows, backwards }).toString())).toEqual(wanted);
        },
      ),
    );
    expect([...everyOutcome(path)]).toEqual(steps.flatMap((rows, step) => rows.map((r) => ({ step, row: r }))));
  });
  it("are none where it was abandoned", () => {
    const path = join(place.folder, "preview.sqlite");
    const writer = new PreviewWriter(path);
    writer.emitIn(0)(row(1));
    writer.abandon();
    expect(() => previewRows(path, { step: 0, outcomes: [], offset: 0, rows: 1 })).toThrow();
  });
});
