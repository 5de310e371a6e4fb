import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { AGGREGATES } from "../query/aggregates";
import type { AggregateName } from "../query/choices";
import { emptyQuery } from "../query/empty";
import { tableOfPlan } from "../query/planTable";
import { resolveQuery } from "../query/resolve";
import { usualDay } from "../types/calendar";
import { ProblemError } from "../types/problem";
import { SHOW_AS } from "./choices";
import {
  addCount,
  addField,
  addFormula,
  changeAxis,
  changeFigure,
  chooseFigure,
  duplicateFigure,
  firstPivot,
  movePart,
  nudgePart,
  removePart,
  type Shelf,
  toggleShut,
} from "./edit";
import { emptyPivot } from "./empty";
import { planPivot } from "./plan";
import { type PivotSpec, pivotSpecSchema } from "./spec";

/* A person at the shelves, by chance: nothing is lost or doubled, and what cannot be shown is said, never left to fail. */

const context = { today: usualDay("2026-11-24"), values: {} };
const columns = sampleSchema.tables[1]?.columns ?? [];
const resolved = resolveQuery(
  { ...emptyQuery("crate"), columns: columns.map((c) => ({ id: c.name, value: { kind: "field", join: "", column: c.name } })) },
  sampleSchema,
  context,
);
if (!resolved.ok) throw new ProblemError(resolved.problems);
const inner = resolved.value;
const table = tableOfPlan(inner);

type Doing = { do: string; column: number; shelf: Shelf; n: number; m: number };
const doing: fc.Arbitrary<Doing> = fc.record({
  do: fc.constantFrom("add", "add", "count", "formula", "duplicate", "move", "nudge", "remove", "figure", "showAs", "order", "first", "shut"),
  column: fc.nat(20),
  shelf: fc.constantFrom<Shelf>("down", "across", "figures"),
  n: fc.nat(20),
  m: fc.nat(20),
});
const pick = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(1, list.length)];
const parts = (spec: PivotSpec) => [...spec.down, ...spec.across, ...spec.figures];
const ids = (spec: PivotSpec) => parts(spec).map((p) => p.id);

function done(spec: PivotSpec, { do: what, column: at, shelf, n, m }: Doing): PivotSpec {
  const column = pick(table.columns, at);
  const part = pick(parts(spec), n)?.id ?? "";
  const figure = pick(spec.figures, n);
  const axis = pick([...spec.down, ...spec.across], n);
  switch (what) {
    case "add":
      return column && spec[shelf].length < 3 ? addField(spec, column, shelf, m % (spec[shelf].length + 1)) : spec;
    case "count":
      return spec.figures.length < 4 ? addCount(spec) : spec;
    case "formula":
      return spec.figures.length < 4 ? addFormula(spec) : spec;
    case "duplicate":
      return figure && spec.figures.length < 4 ? duplicateFigure(spec, figure.id) : spec;
    case "move": {
      const next = movePart(spec, part, shelf, m % (spec[shelf].length + 1));
      expect(ids(next).sort()).toEqual(ids(spec).sort());
      return next;
    }
    case "nudge": {
      const next = nudgePart(spec, part, m % 2 === 0 ? 1 : -1);
      expect(ids(next).sort()).toEqual(ids(spec).sort());
      return next;
    }
    case "remove": {
      const next = removePart(spec, part);
      expect(ids(next)).toEqual(ids(spec).filter((id) => id !== part));
      return next;
    }
    case "figure": {
      const of = figure?.value?.kind === "field" ? table.columns.find((c) => c.name === (figure.value as { column: string }).column) : undefined;
      const figures = (Object.keys(AGGREGATES) as AggregateName[]).filter(
        (f) => of && AGGREGATES[f].takes(of.type) && !AGGREGATES[f].order && !AGGREGATES[f].weighs,
      );
      const chosen = pick(figures, m);
      return figure && chosen ? chooseFigure(spec, figure.id, chosen) : spec;
    }
    case "showAs":
      return figure ? changeFigure(spec, figure.id, { showAs: pick(SHOW_AS, m) ?? "asIs" }) : spec;
    case "order":
      return axis && figure ? changeAxis(spec, axis.id, { order: { by: "figure", figure: figure.id, direction: "down" } }) : spec;
    case "first":
      return axis ? changeAxis(spec, axis.id, { first: m === 0 ? null : m, empty: m % 2 === 0 }) : spec;
    case "shut":
      return toggleShut(spec, `down ${m}`);
    default:
      return spec;
  }
}

/** What the person has still to do: a figure to choose, or one that cannot be shown as was asked. */
const OWN = new Set(["pivotEmpty", "showAsType", "showAsParts"]);

describe("a figure once more", () => {
  it("is its share of the row where its parts add up, and as it is where they do not", () => {
    const total = { id: "p1", value: { kind: "field" as const, join: "", column: "price" }, figure: "total" as const, showAs: "rank" as const, label: "Paid" };
    const twice = duplicateFigure(addFormula({ ...emptyPivot("q"), figures: [total] }), "p1");
    expect(twice.figures.map((f) => [f.id, f.showAs, f.label])).toEqual([
      ["p1", "rank", "Paid"],
      ["p2", "asIs", undefined],
      ["p3", "shareOfRow", undefined],
    ]);
    expect(duplicateFigure(twice, "p2").figures.at(-1)).toEqual({ ...twice.figures[1], id: "p4" });
    expect(duplicateFigure(twice, "gone")).toBe(twice);
  });
});

describe("a pivot changed by chance", () => {
  it("is a description at each step, and names nothing that is gone", () => {
    fc.assert(
      fc.property(fc.array(doing, { minLength: 10, maxLength: 60, size: "max" }), (steps) => {
        let spec = emptyPivot("q");
        for (const step of steps) {
          spec = done(spec, step);
          expect(pivotSpecSchema.safeParse(JSON.parse(JSON.stringify(spec))).success, step.do).toBe(true);
          expect(new Set(ids(spec)).size).toBe(ids(spec).length);
          const plan = planPivot(spec, inner, context);
          expect(plan.ok ? [] : plan.problems.filter((p) => !OWN.has(p.code)), `after ${step.do}: ${JSON.stringify(spec)}`).toEqual([]);
        }
      }),
      { seed: 20261124, numRuns: 200 },
    );
  });

  it("goes over the end of down into across and back, by keys alone", () => {
    const [mark, day] = [table.columns.find((c) => c.name === "mark"), table.columns.find((c) => c.name === "day")];
    if (!mark || !day) throw new Error("no columns");
    const spec = addField(addField(emptyPivot("q"), mark, "down"), day, "down");
    const over = nudgePart(spec, "p2", 1);
    expect([over.down.map((a) => a.id), over.across.map((a) => a.id)]).toEqual([["p1"], ["p2"]]);
    expect(nudgePart(over, "p2", 1)).toBe(over);
    expect(nudgePart(over, "p2", -1).down.map((a) => a.id)).toEqual(["p1", "p2"]);
    expect(spec.down[1]?.value).toMatchObject({ column: "day", part: "quarter" });
    expect(movePart(spec, "p1", "figures", 0)).toBe(spec);
  });

  it("begins with a text of few values, a date and an amount; with a count where there is no amount", () => {
    const begun = firstPivot(
      emptyPivot("q"),
      table,
      (c) => c.name === "price",
      (c) => c.name === "mark",
    );
    expect([begun.down[0]?.value, begun.across[0]?.value, begun.figures[0]?.figure]).toMatchObject([{ column: "mark" }, { column: "day" }, "total"]);
    const none = firstPivot(
      emptyPivot("q"),
      table,
      () => false,
      () => false,
    );
    expect([none.down.length, none.figures]).toMatchObject([0, [{ figure: "count", value: null }]]);
  });
  it("groups a date that is put on a shelf again by what it is not grouped by yet", () => {
    const day = table.columns.find((c) => c.name === "day");
    if (!day) throw new Error("no day");
    const shelves: Shelf[] = ["across", "across", "down"];
    const spec = shelves.reduce((pivot, shelf) => addField(pivot, day, shelf), emptyPivot("q"));
    const partsOf = (side: "down" | "across") => spec[side].map((a) => a.value.kind === "field" && a.value.part);
    expect([partsOf("across"), partsOf("down")]).toEqual([["quarter", "month"], ["year"]]);
  });
});
