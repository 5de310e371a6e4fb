import { findTable, mayChange, type Schema, storedColumns, type Table } from "../schema/schema";
import type { Existing } from "./choices";
import { pairsByName } from "./plan";
import type { NextStep, Pair, PostingControl, PostingSource, PostingSpec, PostingStep } from "./spec";
import { stepsOf } from "./steps";

/* What a click or a key in a posting makes of its description. */

/** A step changed. Its source is that of the first step as long as it names no other. */
export function withStep(spec: PostingSpec, step: number, change: Partial<PostingStep>): PostingSpec {
  if (step === 0) return { ...spec, ...change };
  return { ...spec, steps: (spec.steps ?? []).map((s, i) => (i === step - 1 ? { ...s, ...change } : s)) };
}

/** A step with another target begins anew: its columns are others. */
export const withTarget = (spec: PostingSpec, step: number, target: string): PostingSpec =>
  stepsOf(spec)[step]?.target === target ? spec : withStep(spec, step, { target, pairs: [], same: [] });

/** A step in which a column has another source, or none; rows are no longer matched by a column that has none. */
export function withPair(step: PostingStep, column: string, pair: Pair | null, order: string[]): Pick<PostingStep, "pairs" | "same"> {
  const others = step.pairs.filter((p) => p.column !== column);
  const pairs = pair ? [...others, pair].sort((a, b) => order.indexOf(a.column) - order.indexOf(b.column)) : others;
  return { pairs, same: step.same.filter((c) => pairs.some((p) => p.column === c)) };
}

/** A pair by what becomes of its column in rows that exist already; null where it is written. */
export function withExisting(pair: Pair, existing: Existing | null): Pair {
  const { existing: _, ...rest } = pair;
  return existing === null ? rest : { ...rest, existing };
}

/** A pair whose empty values are those of the row before, or no longer. */
export function withDown(pair: Pair, down: boolean): Pair {
  const { down: _, ...rest } = pair;
  return down ? { ...rest, down } : rest;
}

/** A further step that adds the rows of the first step's source to a table, those that lead to its rows finding them there. */
export function withNextStep(spec: PostingSpec, target: Table, source: Table | null, schema: Schema): PostingSpec {
  const named = source ? pairsByName(source, target, schema) : [];
  const led = ledToFirst(spec, target, schema);
  const pairs = led ? [...named.filter((p) => p.column !== led.column), led] : named;
  const whole = target.key.length > 0 && target.key.every((k) => pairs.some((p) => p.column === k));
  const step: NextStep = {
    source: null,
    action: "add",
    target: target.name,
    same: whole ? target.key : [],
    present: whole ? "leave" : "add",
    breaking: "refuse",
    pairs,
  };
  return { ...spec, steps: [...(spec.steps ?? []), step] };
}

/** How the rows of a table find the row of the first step's table that they lead to: by what its rows are matched by. */
function ledToFirst(spec: PostingSpec, target: Table, schema: Schema): Pair | null {
  const [by, other] = spec.same;
  const value = spec.pairs.find((p) => p.column === by)?.value;
  if (by === undefined || other !== undefined || !value) return null;
  for (const link of schema.links)
    for (const [near, far] of [
      [link.a, link.b],
      [link.b, link.a],
    ] as const) {
      const [column, more] = near.columns;
      if (near.table !== target.name || far.table !== spec.target || far.leadsTo !== "one" || column === undefined || more !== undefined) continue;
      return far.columns[0] === by ? { column, value } : { column, value, found: { link: link.id, by } };
    }
  return null;
}

/** A step that moves rows into an archive of their table: every column into the one of its name, rows matched by the key. */
export function withArchive(spec: PostingSpec, step: number, { name, origin, source, schema }: Archive): PostingSpec {
  const archive: Table = { ...origin, name, columns: storedColumns(origin).map(({ filled: _, ...c }) => c) };
  const pairs = pairsByName(source, archive, schema);
  return withStep(spec, step, { action: "move", target: name, pairs, same: origin.key, present: "leave" });
}

/** The name of the table that rows are moved into, the table they are in, and what the posting takes them from. */
type Archive = { name: string; origin: Table; source: Table; schema: Schema };

/** The posting without one of its further steps; control totals of that step go with it. */
export function withoutStep(spec: PostingSpec, step: number): PostingSpec {
  const controls = (spec.controls ?? []).filter((c) => c.step !== step).map((c) => (c.step > step ? { ...c, step: c.step - 1 } : c));
  return { ...spec, steps: (spec.steps ?? []).filter((_, i) => i !== step - 1), ...(spec.controls ? { controls } : {}) };
}

/** Another source for a step; what is taken from it stays, to be told as missing where it is not there. */
export const withSource = (spec: PostingSpec, step: number, source: PostingSource): PostingSpec => withStep(spec, step, { source });

export const withControlAt = (spec: PostingSpec, at: number, change: Partial<PostingControl> | null): PostingSpec => {
  const controls = spec.controls ?? [];
  return { ...spec, controls: change ? controls.map((c, i) => (i === at ? { ...c, ...change } : c)) : controls.filter((_, i) => i !== at) };
};

/** A control total more: that every row of the step's source can be posted. */
export const withNewControl = (spec: PostingSpec, step: number): PostingSpec => ({
  ...spec,
  controls: [...(spec.controls ?? []), { step, figure: "refused", compare: "atMost", value: "0" }],
});

/** The tables that a further step may write, those whose rows lead to the first step's first. */
export function tablesForNextStep(spec: PostingSpec, schema: Schema): Table[] {
  const near = new Set(schema.links.flatMap(({ a, b }) => (b.table === spec.target ? [a.table] : a.table === spec.target ? [b.table] : [])));
  const tables = schema.tables.filter((t) => mayChange(t) && findTable(schema, t.name) === t);
  return [...tables.filter((t) => near.has(t.name)), ...tables.filter((t) => !near.has(t.name))];
}
