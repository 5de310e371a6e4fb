import { coerce, type Place, type Stored } from "../posting/coerce";
import { quoted } from "../query/dialect/dialect";
import { type Column, humanise } from "../schema/schema";
import { type Checked, type Problem, type ProblemCode, problem } from "../types/problem";
import { ownStorage } from "../types/storage";
import { sameType, TYPE_WORDS, text, type ValueType } from "../types/valueType";
import { CHECK_WORDS } from "./choices";
import { keyOf } from "./createTable";
import { declaration } from "./declaration";
import { literal } from "./literal";
import { planLookup, planMake } from "./lookup";
import { checkName, isSame } from "./names";
import type { SaidOf, ShapeContext, ShapePlan, ShapePlanColumn, ShapeSaid, Wrong } from "./shapePlan";
import type { ShapeCheck, ShapeColumn, ShapeSpec } from "./spec";
import { planWorked, type Worked } from "./worked";

/** What a STRICT table may declare for a type; null where it would be read back as another. Source: SQLite's documentation, “STRICT Tables”. */
const STRICT_DECLARED: Record<ValueType["kind"], string | null> = {
  text: "TEXT",
  whole: "INTEGER",
  floating: "REAL",
  date: "TEXT",
  timestamp: "TEXT",
  yesno: null,
  decimal: null,
};

/**
 * Checks a change of a table, and works out what becomes of each column.
 * @throws nothing; problems are those of shape*, duplicateName and columnGone
 */
export function planShape(spec: ShapeSpec, context: ShapeContext): Checked<ShapePlan> {
  const problems: Problem[] = [];
  const wrong = (code: ProblemCode, path: (string | number)[], detail = {}) => void problems.push(problem(code, path, detail));
  const { now } = context;
  checkName(spec.name, ["name"], wrong);
  const taken = context.taken.find((name) => isSame(name, spec.name.trim()) && !(now && isSame(name, now.table.name)));
  if (taken !== undefined) wrong("shapeNameTaken", ["name"], { name: taken });

  const numbered = spec.key?.kind === "number" ? spec.key.name.trim() : null;
  const named = [
    ...spec.columns.map((c) => ({ path: ["columns", c.id, "name"], name: c.name.trim() })),
    ...(numbered === null ? [] : [{ path: ["key"], name: numbered }]),
  ];
  if (named.length === 0) wrong("shapeNoColumns", []);
  named.forEach(({ path, name }, i) => {
    checkName(name, path, wrong);
    if (name !== "" && named.findIndex((other) => isSame(other.name, name)) < i) wrong("duplicateName", path, { name });
  });

  const key = planKey(spec, context, wrong);
  const worked = planWorked(spec.columns, context, (p) => void problems.push(p));
  const columns = spec.columns.map((c) => planColumn(c, spec, context, worked, wrong));
  const makes = spec.columns.flatMap((c) => planMake(c, context, spec.name.trim(), wrong));
  if (numbered !== null && numbered !== "") columns.unshift(numberColumn(numbered));
  const kept = new Set(spec.columns.flatMap((c) => c.from ?? []));
  const stored = now?.table.columns.filter((c) => !c.derived) ?? [];
  const dropped = stored.filter((c) => !kept.has(c.name));
  // Whatever names the column that is dropped would read the other one from then on.
  for (const c of spec.columns) {
    const gone = dropped.find((d) => isSame(d.name, c.name.trim()));
    if (gone) wrong("shapeNameOfDropped", ["columns", c.id, "name"], { name: gone.name });
  }
  const converted = columns.flatMap((c) => (c.value.kind === "convert" ? [c.value.from] : []));
  if (now?.sql.withoutRowid && (key !== null || [...dropped, ...converted].some((c) => now.table.key.includes(c.name))))
    wrong("shapeKeyFixed", ["key"], { table: now.table.label });
  if (problems.length > 0) return { ok: false, problems };
  const renames = spec.columns.flatMap(({ from, name }): [string, string][] => (from !== null && from !== name.trim() ? [[from, name.trim()]] : []));
  const plan = { table: spec.table, name: spec.name.trim(), columns, renames, dropped, key, makes, worked, said: saidIn(columns, stored) };
  return { ok: true, value: { ...plan, how: howOf(plan, stored) } };
}

/** A unit or a note as it is from now on: as it was where nothing is given. */
function said<K extends "unit" | "note">(name: K, given: string | null | undefined, old: Column | undefined): { [P in K]?: string | undefined } {
  const value = given === undefined ? old?.[name] : given?.trim() || undefined;
  return { [name]: value } as { [P in K]?: string | undefined };
}

/** The columns of the new key by their names; null where it stays. */
function planKey({ key, columns }: ShapeSpec, { now }: ShapeContext, wrong: Wrong): string[] | null {
  if (!key) return null;
  if (key.kind === "number") return [key.name.trim()];
  const found = key.ids.map((id) => columns.find((c) => c.id === id)?.name.trim());
  if (found.some((name) => name === undefined)) wrong("shapeKeyGone", ["key"]);
  const names = found.flatMap((name) => name ?? []);
  const before = now ? keyOf(now.sql).map((name) => columns.find((c) => c.from !== null && isSame(c.from, name))?.name.trim()) : [];
  return JSON.stringify(names) === JSON.stringify(before) ? null : names;
}

const numberColumn = (name: string): ShapePlanColumn => ({
  id: "number",
  column: { name, label: humanise(name), type: { kind: "whole" }, storage: "plain", nullable: false, misfits: 0, filled: "number" },
  value: { kind: "number" },
  edit: { declared: "INTEGER", primaryKey: true },
  required: false,
  different: false,
  check: null,
});

function planColumn(given: ShapeColumn, spec: ShapeSpec, context: ShapeContext, worked: Worked | null, wrong: Wrong): ShapePlanColumn {
  if (given.lookup && given.from === null) return planLookup(given, given.lookup, spec, context, wrong);
  const { now, order } = context;
  const path = (part: string) => ["columns", given.id, part];
  const old = given.from === null ? undefined : now?.table.columns.find((c) => c.name === given.from && !c.derived);
  if (given.from !== null && !old) wrong("columnGone", path("from"), { table: now?.table.label ?? "", column: given.from });
  const name = given.name.trim();
  const made = worked?.columns[given.id];
  const type = given.type ?? old?.type ?? made?.type ?? text;
  const retyped = old === undefined || (given.type !== undefined && !sameType(given.type, old.type));
  const storage = retyped ? ownStorage(type) : old.storage;
  const column: Column = {
    ...(old && !retyped ? old : { misfits: 0 }),
    name,
    label: old && old.name === name ? old.label : humanise(name),
    type,
    storage,
    nullable: !(given.required ?? old?.nullable === false),
    ...said("unit", given.unit, old),
    ...said("note", given.note, old),
  };
  const declared = now?.sql.strict ? STRICT_DECLARED[type.kind] : declaration(type);
  if (retyped && declared === null) wrong("shapeStrict", path("type"), { type: TYPE_WORDS[type.kind] });
  if (old?.generated && (retyped || given.fallback !== undefined || given.fill !== undefined)) wrong("shapeGenerated", path("type"), { column: old.label });
  const stored = (part: string, written: string | null | undefined): Stored => {
    if (written === null || written === undefined || (written === "" && type.kind !== "text")) return null;
    const read = coerce(written, text, column satisfies Place, order);
    if ("stored" in read) return read.stored;
    wrong("shapeValue", path(part), { why: read.why });
    return null;
  };
  const fallback = stored("fallback", given.fallback);
  const fill = given.fill === undefined ? (old ? null : fallback) : stored("fill", given.fill);
  for (const { text: mapped } of given.mapped ?? []) stored("mapped", mapped);
  const check = given.check ? checkOf(given.check, given, spec, (written) => stored("check", written)) : null;
  const cleared = given.misfits === "empty" || given.misfits === "formula";
  const converted = old && (retyped || fill !== null || (given.mapped ?? []).length > 0 || (cleared && old.misfits > 0));
  const read = {
    dates: given.dates ?? order,
    empty: given.misfits === "empty",
    mapped: (given.mapped ?? []).map((m): [string, string] => [m.written, m.text]),
    fill,
  };
  return {
    id: given.id,
    column,
    value: converted
      ? { kind: "convert", from: old, ...read, instead: made }
      : old
        ? { kind: "same", column: old.name }
        : made
          ? { kind: "formula", from: made, ...read, text: given.formula ?? "" }
          : { kind: "fill", stored: fill },
    edit: {
      declared: retyped ? (declared ?? undefined) : undefined,
      notNull: given.required,
      unique: given.different,
      fallback: given.fallback === undefined ? undefined : fallback === null ? null : literal(fallback),
      check: given.check === undefined ? undefined : check,
    },
    required: column.nullable === false && !old?.generated,
    different: given.different === true,
    check,
  };
}

function checkOf(
  check: ShapeCheck,
  { name, id }: ShapeColumn,
  { columns }: ShapeSpec,
  stored: (written: string) => Stored,
): { sql: string; words: string } | null {
  const column = quoted(name.trim());
  if (check.kind === "oneOf") {
    const values = check.values.map((v) => v.trim()).filter((v) => v !== "");
    if (values.length === 0) return null;
    return { sql: `${column} IN (${values.map((v) => literal(stored(v))).join(", ")})`, words: `one of ${values.join(", ")}` };
  }
  const { operator, to } = check;
  const { sql, words } = CHECK_WORDS[operator];
  if (to.kind === "value") {
    if (to.text.trim() === "") return null;
    return { sql: `${column} ${sql} ${literal(stored(to.text))}`, words: `${words} ${to.text.trim()}` };
  }
  const other = columns.find((c) => c.id === to.id && c.id !== id)?.name.trim();
  return other === undefined ? null : { sql: `${column} ${sql} ${quoted(other)}`, words: `${words} ${other}` };
}

/** What is said of columns from now on, where it is another than before. */
function saidIn(columns: ShapePlanColumn[], stored: Column[]): ShapeSaid[] {
  const saidOf = (column: Column | undefined): SaidOf => ({ unit: column?.unit ?? null, note: column?.note ?? null });
  return columns.flatMap(({ column, value }) => {
    const old = value.kind === "same" ? value.column : value.kind === "convert" ? value.from.name : null;
    const [before, after] = [saidOf(stored.find((c) => c.name === old)), saidOf(column)];
    return before.unit === after.unit && before.note === after.note ? [] : [{ column: column.name, before, after }];
  });
}

/** The least that makes the change: SQLite adds columns at the end in a moment, where nothing is asked of the rows there are. */
function howOf(plan: Omit<ShapePlan, "how">, stored: Column[]): ShapePlan["how"] {
  if (plan.table === null) return "make";
  const renamed = plan.renames.length > 0 || plan.name !== plan.table;
  const edited = ({ edit }: ShapePlanColumn) => Object.values(edit).some((e) => e !== undefined);
  const old = plan.columns.filter((c) => c.value.kind === "same" || c.value.kind === "convert");
  const fresh = plan.columns.slice(old.length);
  const inPlace =
    old.length === stored.length &&
    old.every((c, i) => c === plan.columns[i] && c.value.kind === "same" && c.value.column === stored[i]?.name && !edited(c)) &&
    plan.key === null;
  if (!inPlace) return "rebuild";
  if (fresh.length === 0) return renamed ? "names" : plan.said.length > 0 ? "said" : "nothing";
  // The one value that all rows have must be the one that new rows get.
  const simple = fresh.every(
    ({ value, edit, different, check }) =>
      !different && !check && value.kind === "fill" && literal(value.stored) === (edit.fallback ?? "NULL") && !(edit.notNull && value.stored === null),
  );
  return simple ? "added" : "rebuild";
}
