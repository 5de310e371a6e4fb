import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { briefText, queryBrief } from "../brief/brief";
import { findTable, type Step, stepsFrom } from "../schema/schema";
import { usualDay } from "../types/calendar";
import { AGGREGATES, firstFigure } from "./aggregates";
import type { AggregateName } from "./choices";
import { HOLDS_NAMES, JOIN_WAY_NAMES, WINDOW_NAMES } from "./choices";
import { comparisonsIn, conditionLists, conditionsIn, isGroup, placeOf } from "./conditions";
import * as edit from "./edit";
import { addHaving, addMatchCondition, setWay } from "./editJoins";
import { sortBy } from "./editOrder";
import { addWindowBeside } from "./editSheet";
import { emptyQuery } from "./empty";
import { brings } from "./joinWays";
import { OPERATORS, operatorsFor } from "./operators";
import { resolveQuery } from "./resolve";
import { type Operand, type QuerySpec, querySpecSchema } from "./spec";
import { WINDOWS } from "./windows";

/*
 * A person at work, by chance: whatever is done to a description in whatever order, it names nothing that is not there,
 * and all that stands in its way is what the person has still to fill in.
 */

const locale = { locale: "en-GB", zone: "UTC" };
const walks: { steps: Step[]; table: string }[] = [
  { steps: [], table: "crate" },
  ...stepsFrom(sampleSchema, "crate").flatMap(({ step, far }) => [
    { steps: [step], table: far.table },
    ...stepsFrom(sampleSchema, far.table).map((next) => ({ steps: [step, next.step], table: next.far.table })),
  ]),
];

type Doing = { do: string; walk: number; column: number; n: number; m: number };
const doing: fc.Arbitrary<Doing> = fc.record({
  do: fc.constantFrom(
    "tick",
    "tick",
    "tick",
    "condition",
    "operator",
    "otherField",
    "uncondition",
    "sort",
    "move",
    "remove",
    "unjoin",
    "only",
    "group",
    "ungroup",
    "figure",
    "alternative",
    "holds",
    "toGroup",
    "dissolve",
    "ungroupConditions",
    "having",
    "match",
    "groupCondition",
    "lineCondition",
    "window",
  ),
  walk: fc.nat(walks.length - 1),
  column: fc.nat(20),
  n: fc.nat(20),
  m: fc.nat(20),
});
const pick = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(1, list.length)];

function done(spec: QuerySpec, { do: what, walk, column: at, n, m }: Doing): QuerySpec {
  const { steps, table } = walks[walk] as (typeof walks)[number];
  const name = pick(findTable(sampleSchema, table)?.columns ?? [], at)?.name ?? "";
  const brought = edit.bring(spec, steps);
  const field: Operand = { kind: "field", join: brought.join, column: name };
  const column = pick(spec.columns, n);
  const condition = pick(conditionLists(spec).flatMap(comparisonsIn), n);
  // A field of the rows can be asked only where rows are asked of.
  const asked = condition && placeOf(spec, condition.id)?.of === "rows" ? condition : undefined;
  const group = pick(conditionLists(spec).flatMap(conditionsIn).filter(isGroup), n);
  const holds = pick([...HOLDS_NAMES], m) ?? "all";
  const typeOf = (operand: Operand | null | undefined) => (operand ? edit.operandTypeIn(spec, sampleSchema, operand) : undefined);
  switch (what) {
    case "tick":
      return edit.toggleColumn(spec, sampleSchema, steps, name);
    case "condition":
      return edit.addCondition(brought.spec, sampleSchema, field).spec;
    case "operator": {
      const operator = pick(operatorsFor(typeOf(condition?.left) ?? { kind: "text" }), m);
      return condition && operator ? edit.changeOperator(spec, condition.id, operator) : spec;
    }
    case "otherField":
      return asked ? edit.changeConditionField(brought.spec, sampleSchema, asked.id, field) : spec;
    case "alternative":
      return asked ? edit.addAlternative(brought.spec, sampleSchema, asked.id, field) : spec;
    case "holds":
      return group ? edit.setHolds(spec, group.id, holds) : spec;
    case "toGroup":
      return group && placeOf(spec, group.id)?.of === "rows" ? edit.addToGroup(brought.spec, sampleSchema, group.id, field) : spec;
    case "dissolve":
      return group ? edit.dissolveGroup(spec, group.id) : spec;
    case "ungroupConditions":
      return group ? edit.removeCondition(spec, group.id) : spec;
    case "having": {
      const step = steps.at(-1);
      return step
        ? addHaving(
            edit.bring(spec, steps.slice(0, -1)).spec,
            edit.joinAt(edit.bring(spec, steps.slice(0, -1)).spec, steps.slice(0, -1)) ?? "",
            step,
            m % 2 ? "has" : "hasNone",
          )
        : spec;
    }
    case "match": {
      const join = pick(
        spec.joins.filter((j) => !brings(j.way)),
        n,
      );
      const far = join && findTable(sampleSchema, edit.tableOf(spec, sampleSchema, join.id) ?? "");
      return join && far ? addMatchCondition(spec, sampleSchema, join.id, pick(far.columns, at)?.name ?? "") : spec;
    }
    case "groupCondition":
      return spec.grouped && column && column.figure !== "window" ? edit.addGroupCondition(spec, sampleSchema, column.id) : spec;
    case "lineCondition":
      return column ? edit.addLineCondition(spec, sampleSchema, column.id) : spec;
    case "window": {
      const kinds = WINDOW_NAMES.filter((k) => WINDOWS[k].takes?.(typeOf({ kind: "column", id: column?.id ?? "" }) ?? { kind: "text" }));
      const kind = pick(kinds, m);
      return column && kind && column.figure !== "window" && !column.hidden ? addWindowBeside(spec, column.id, kind) : spec;
    }
    case "uncondition":
      return condition ? edit.removeCondition(spec, condition.id) : spec;
    case "sort":
      return column ? sortBy(spec, column.id) : spec;
    case "move":
      return column ? edit.moveColumn(spec, column.id, m % 2 === 0 ? 1 : -1) : spec;
    case "remove":
      return column ? edit.removeColumns(spec, [column.id]) : spec;
    case "unjoin": {
      const join = pick(spec.joins, n);
      return join ? edit.removeJoin(spec, join.id) : spec;
    }
    case "only": {
      const join = pick(spec.joins, n);
      return join ? setWay(spec, join.id, JOIN_WAY_NAMES[m % JOIN_WAY_NAMES.length] ?? "keep") : spec;
    }
    case "group":
      return edit.groupBy(brought.spec, sampleSchema, field);
    case "ungroup":
      return spec.grouped ? edit.ungroup(spec, sampleSchema) : spec;
    case "figure": {
      const type = typeOf(column?.value);
      if (!spec.grouped || !column || !type || column.figure === "window") return spec;
      const figures = (Object.keys(AGGREGATES) as AggregateName[]).filter((f) => AGGREGATES[f].takes(type));
      const figure = pick(figures, m) ?? firstFigure(type);
      // The order of a first, a last or a list may be another table's.
      return edit.changeColumn(brought.spec, column.id, { ...edit.asFigure(column, figure), ...(AGGREGATES[figure].order ? { by: field } : {}) });
    }
    default:
      return spec;
  }
}

/** What the person has still to do themselves. */
const OWN = new Set(["noColumns", "valueMissing", "figureNeedsWeight", "windowOf"]);

describe("a query changed by chance", () => {
  it("is a description at each step, names nothing that is gone, and is said in a sentence", () => {
    const first: QuerySpec = { ...emptyQuery("crate"), columns: edit.firstColumns(sampleSchema, "crate") };
    expect(walks.length).toBeGreaterThan(2);
    fc.assert(
      fc.property(fc.array(doing, { minLength: 10, maxLength: 60, size: "max" }), (steps) => {
        let spec = first;
        for (const step of steps) {
          spec = done(spec, step);
          expect(querySpecSchema.safeParse(JSON.parse(JSON.stringify(spec))).success, step.do).toBe(true);
          const ids = [...spec.joins, ...spec.columns, ...conditionLists(spec).flatMap(conditionsIn)].map((p) => p.id);
          expect(new Set(ids).size, step.do).toBe(ids.length);
          const resolved = resolveQuery(spec, sampleSchema, { today: usualDay("2026-11-24"), values: {} });
          const problems = resolved.ok ? [] : resolved.problems.filter((p) => !OWN.has(p.code));
          expect(problems, `after ${step.do}: ${JSON.stringify(spec)}`).toEqual([]);
          expect(briefText(queryBrief(spec, sampleSchema, locale))).not.toMatch(/undefined|that is gone/);
        }
      }),
      { seed: 20261124, numRuns: 300 },
    );
  });

  it("asks for as many values as its comparison needs", () => {
    const { spec, id } = edit.addCondition(emptyQuery("crate"), sampleSchema, { kind: "field", join: "", column: "price" });
    for (const operator of operatorsFor({ kind: "decimal", scale: 2 })) {
      const { values } = OPERATORS[operator];
      const [condition] = comparisonsIn(edit.changeOperator(spec, id, operator).conditions);
      expect([operator, condition?.values.length]).toEqual([operator, values === "many" || values === "rows" ? 1 : values]);
    }
  });

  it("moves a group past the next group and a figure past the next figure, and any column of rows past the next", () => {
    const value = (column: string) => ({ kind: "field" as const, join: "", column });
    const columns = [
      { id: "mark", value: value("mark") },
      { id: "price", value: value("price"), figure: "total" as const },
      { id: "day", value: value("day") },
      { id: "count", value: null, figure: "count" as const },
    ];
    const order = (grouped: boolean, id: string, by: -1 | 1) => {
      const shown = grouped ? columns : columns.map(({ id, value }) => ({ id, value }));
      return edit
        .moveColumn({ ...emptyQuery("crate"), grouped, columns: shown }, id, by)
        .columns.map((c) => c.id)
        .join(" ");
    };
    expect(order(true, "day", -1)).toBe("day price mark count");
    expect(order(true, "price", 1)).toBe("mark count day price");
    expect(order(true, "price", -1)).toBe("mark price day count");
    expect(order(true, "count", 1)).toBe("mark price day count");
    expect(order(false, "day", -1)).toBe("mark day price count");
    expect(order(false, "mark", -1)).toBe("mark price day count");
    expect(order(false, "gone", 1)).toBe("mark price day count");
  });
});

describe("what is worked out from the rows beside", () => {
  const beside = (id: string, of: string, more: object = {}): QuerySpec["columns"][number] => ({
    id,
    value: { kind: "column", id: of },
    figure: "window",
    window: { kind: "running", ...more },
  });
  const field = (column: string): Operand => ({ kind: "field", join: "", column });
  it("stays where rows are grouped or no longer are, as far as there is something it can be of", () => {
    const rows: QuerySpec = {
      ...emptyQuery("crate"),
      columns: [{ id: "p", value: field("price") }, { id: "d", value: field("day") }, beside("r", "p"), beside("k", "d", { kind: "rank" })],
    };
    expect(edit.groupBy(rows, sampleSchema, field("mark")).columns.map((c) => c.figure ?? "key")).toEqual(["key", "count", "total", "window"]);
    const groups: QuerySpec = {
      ...emptyQuery("crate"),
      grouped: true,
      columns: [
        { id: "m", value: { ...field("day"), part: "month" } as Operand },
        { id: "p", value: field("price"), figure: "total" },
        { id: "n", value: field("mark"), figure: "countDifferent" },
        beside("r", "p"),
        beside("t", "n"),
        beside("c", "p", { kind: "change", back: "period" }),
      ],
      lineConditions: [{ id: "w", left: { kind: "column", id: "t" }, operator: "atLeast", values: [{ kind: "value", text: "1" }] }],
    };
    const rowsAgain = edit.ungroup(groups, sampleSchema);
    expect(rowsAgain.columns.map((c) => c.id)).toEqual(["m", "p", "n", "r"]);
    expect(rowsAgain.lineConditions).toBeUndefined();
  });
});
