import { literal } from "../expression/expr";
import { valueOfColumn } from "../query/home";
import { type Plan, rowsOfGroups } from "../query/plan";
import { hasSubtotal, keyPlaces, type Level, levelsOf } from "../query/subtotals";
import { Groups } from "./groups";
import { inGroups, type ReadTable, Recount, recountRows } from "./recount";
import { keyOfValues, type Row } from "./value";

/** What stands in a line where a column has nothing to say. */
const EMPTY = literal(null, { kind: "whole" });

/** A level's subtotals, made a second time: its rows are those of the groups shown, and each line's keys are looked up among them. */
function levelRows(plan: Plan, level: Level, lines: Row[], read: ReadTable): (line: Row) => { key: unknown; row: Row } {
  const ofShown = rowsOfGroups(plan);
  const recount = new Recount(plan, read);
  const holds = plan.conditions.map((c) => recount.evaluate(c.expr));
  const values = plan.columns.map((c, at) => (level.places.includes(at) ? (c.expr ?? EMPTY) : hasSubtotal(c, level.exprs) ? valueOfColumn(c) : EMPTY));
  const groups = new Groups(recount, level.exprs, values);
  const isShown = inGroups(ofShown, recount, read);
  recount.each((tuple) => {
    if (holds.every((test) => test(tuple) === true) && isShown(tuple)) groups.add(tuple);
  });
  const keysOf = (line: Row): Row => level.places.map((at) => line[at] ?? null);
  for (const line of lines) groups.ensure(keysOf(line));
  const rows = new Map([...groups.all()].map((g) => [g.key, [...g.values, BigInt(level.depth)]]));
  return (line) => {
    const key = keyOfValues(keysOf(line));
    return { key, row: rows.get(key) ?? [] };
  };
}

/** A sheet's lines, its subtotals among them, each with how many keys it is of. */
export function recountSheet(plan: Plan, read: ReadTable): Row[] {
  const lines = recountRows(plan, read);
  const levels = levelsOf(plan).map((level) => levelRows(plan, level, lines, read));
  const depth = BigInt(keyPlaces(plan).length);
  return lines.flatMap((line, i) => {
    const next = lines[i + 1];
    // The narrowest level ends first.
    const ended = levels.toReversed().filter((level) => !next || level(next).key !== level(line).key);
    return [[...line, depth], ...ended.map((level) => level(line).row)];
  });
}
