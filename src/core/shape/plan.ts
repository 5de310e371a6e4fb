import { coerce, type Place, type Stored } from "../posting/coerce";
import { quoted } from "../query/dialect/dialect";
import { type Column, humanise, type Table } from "../schema/schema";
import type { DateOrder } from "../types/date";
import { type Checked, type Problem, type ProblemCode, problem } from "../types/problem";
import { ownStorage } from "../types/storage";
import { TYPE_WORDS, text, type ValueType } from "../types/valueType";
import { CHECK_WORDS } from "./choices";
import { type CreateTable, keyOf } from "./createTable";
import { declaration } from "./declaration";
import { literal } from "./literal";
import type { ShapeCheck, ShapeColumn, ShapeSpec } from "./spec";

/** Where the values of a column come from. */
export type ShapeValue =
  | { kind: "same"; column: string }
  /** Each value of a column read as its new type. */
  | { kind: "convert"; from: Column; dates: DateOrder; empty: boolean; mapped: [string, string][]; fill: Stored }
  | { kind: "fill"; stored: Stored }
  /** The values of a column looked up among a table's rows, past case, accents and blanks around them. */
  | { kind: "lookup"; from: Column; table: string; match: Column; give: Column; mapped: [string, string][]; empty: boolean }
  /** The number by which the database knows the row. */
  | { kind: "number" };

/** What a column's definition says from now on; what is undefined stays as it is written. */
export type ColumnEdit = {
  declared?: string | undefined;
  notNull?: boolean | undefined;
  unique?: boolean | undefined;
  /** SQL; null where there is none any more. */
  fallback?: string | null | undefined;
  check?: { sql: string; words: string } | null | undefined;
  primaryKey?: boolean | undefined;
  /** The row of another table that a value leads to. */
  references?: { table: string; column: string } | undefined;
};

export type ShapePlanColumn = {
  id: string;
  /** The column as the ledger will read it. */
  column: Column;
  value: ShapeValue;
  edit: ColumnEdit;
  /** What its values are held against. */
  required: boolean;
  different: boolean;
  check: { sql: string; words: string } | null;
};

/** A change of a table, checked. */
export type ShapePlan = {
  /** By its name now; null where it is made. */
  table: string | null;
  name: string;
  columns: ShapePlanColumn[];
  renames: [from: string, to: string][];
  dropped: Column[];
  /** The columns of the key by their names to be; null where it stays as it is. */
  key: string[] | null;
  /** What is to be done: names alone, columns at the end alone, or every row written anew. */
  how: "nothing" | "names" | "added" | "rebuild" | "make";
};

export type ShapeContext = {
  /** The table as it is, and what its statement says; null where it is to be made. */
  now: { table: Table; sql: CreateTable } | null;
  /** The database's tables, among which values can be looked up. */
  tables: Table[];
  /** Names of the database's tables, views and indexes. */
  taken: string[];
  /** How dates are typed. */
  order: DateOrder;
};

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

const same = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();
const sameType = (a: ValueType, b: ValueType): boolean => JSON.stringify(a) === JSON.stringify(b);

/**
 * Checks a change of a table, and works out what becomes of each column.
 * @throws nothing; problems are those of shape*, duplicateName and columnGone
 */
export function planShape(spec: ShapeSpec, context: ShapeContext): Checked<ShapePlan> {
  const problems: Problem[] = [];
  const wrong = (code: ProblemCode, path: (string | number)[], detail = {}) => void problems.push(problem(code, path, detail));
  const { now } = context;
  checkName(spec.name, ["name"], wrong);
  const taken = context.taken.find((name) => same(name, spec.name.trim()) && !(now && same(name, now.table.name)));
  if (taken !== undefined) wrong("shapeNameTaken", ["name"], { name: taken });

  const numbered = spec.key?.kind === "number" ? spec.key.name.trim() : null;
  const named = [
    ...spec.columns.map((c) => ({ path: ["columns", c.id, "name"], name: c.name.trim() })),
    ...(numbered === null ? [] : [{ path: ["key"], name: numbered }]),
  ];
  if (named.length === 0) wrong("shapeNoColumns", []);
  named.forEach(({ path, name }, i) => {
    checkName(name, path, wrong);
    if (name !== "" && named.findIndex((other) => same(other.name, name)) < i) wrong("duplicateName", path, { name });
  });

  const key = planKey(spec, context, wrong);
  const columns = spec.columns.map((c) => planColumn(c, spec, context, wrong));
  if (numbered !== null && numbered !== "") columns.unshift(numberColumn(numbered));
  const kept = new Set(spec.columns.flatMap((c) => c.from ?? []));
  const stored = now?.table.columns.filter((c) => !c.derived) ?? [];
  const dropped = stored.filter((c) => !kept.has(c.name));
  // Whatever names the column that is dropped would read the other one from then on.
  for (const c of spec.columns) {
    const gone = dropped.find((d) => same(d.name, c.name.trim()));
    if (gone) wrong("shapeNameOfDropped", ["columns", c.id, "name"], { name: gone.name });
  }
  const converted = columns.flatMap((c) => (c.value.kind === "convert" ? [c.value.from] : []));
  if (now?.sql.withoutRowid && (key !== null || [...dropped, ...converted].some((c) => now.table.key.includes(c.name))))
    wrong("shapeKeyFixed", ["key"], { table: now.table.label });
  if (problems.length > 0) return { ok: false, problems };
  const renames = spec.columns.flatMap(({ from, name }): [string, string][] => (from !== null && from !== name.trim() ? [[from, name.trim()]] : []));
  const plan = { table: spec.table, name: spec.name.trim(), columns, renames, dropped, key };
  return { ok: true, value: { ...plan, how: howOf(plan, stored) } };
}

type Wrong = (code: ProblemCode, path: (string | number)[], detail?: Record<string, string | number>) => void;

function checkName(name: string, path: (string | number)[], wrong: Wrong): void {
  if (name.trim() === "") wrong("shapeNameMissing", path);
  else if (/^(sqlite_|next_ledger_)/i.test(name.trim())) wrong("shapeNameReserved", path, { name: name.trim() });
}

/** The columns of the new key by their names; null where it stays. */
function planKey({ key, columns }: ShapeSpec, { now }: ShapeContext, wrong: Wrong): string[] | null {
  if (!key) return null;
  if (key.kind === "number") return [key.name.trim()];
  const found = key.ids.map((id) => columns.find((c) => c.id === id)?.name.trim());
  if (found.some((name) => name === undefined)) wrong("shapeKeyGone", ["key"]);
  const names = found.flatMap((name) => name ?? []);
  const before = now ? keyOf(now.sql).map((name) => columns.find((c) => c.from !== null && same(c.from, name))?.name.trim()) : [];
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

function planColumn(given: ShapeColumn, spec: ShapeSpec, context: ShapeContext, wrong: Wrong): ShapePlanColumn {
  if (given.lookup && given.from === null) return planLookup(given, given.lookup, context, wrong);
  const { now, order } = context;
  const path = (part: string) => ["columns", given.id, part];
  const old = given.from === null ? undefined : now?.table.columns.find((c) => c.name === given.from && !c.derived);
  if (given.from !== null && !old) wrong("columnGone", path("from"), { table: now?.table.label ?? "", column: given.from });
  const name = given.name.trim();
  const type = given.type ?? old?.type ?? text;
  const retyped = old === undefined || (given.type !== undefined && !sameType(given.type, old.type));
  const storage = retyped ? ownStorage(type) : old.storage;
  const column: Column = {
    ...(old && !retyped ? old : { misfits: 0 }),
    name,
    label: old && old.name === name ? old.label : humanise(name),
    type,
    storage,
    nullable: !(given.required ?? old?.nullable === false),
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
  const converted = old && (retyped || fill !== null || (given.mapped ?? []).length > 0 || (given.misfits === "empty" && old.misfits > 0));
  return {
    id: given.id,
    column,
    value: converted
      ? {
          kind: "convert",
          from: old,
          dates: given.dates ?? order,
          empty: given.misfits === "empty",
          mapped: (given.mapped ?? []).map((m) => [m.written, m.text]),
          fill,
        }
      : old
        ? { kind: "same", column: old.name }
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

/** A new column whose values are found by those of another. */
function planLookup(given: ShapeColumn, lookup: NonNullable<ShapeColumn["lookup"]>, { now, tables }: ShapeContext, wrong: Wrong): ShapePlanColumn {
  const path = ["columns", given.id, "lookup"];
  const table = tables.find((t) => t.name === lookup.table && !t.view);
  if (!table) wrong("tableGone", path, { table: lookup.table });
  const found = (of: Table | undefined, name: string): Column => {
    const column = of?.columns.find((c) => c.name === name && !c.derived);
    if (of && !column) wrong("columnGone", path, { table: of.label, column: name });
    return column ?? { name, label: name, type: text, storage: "plain", nullable: true, misfits: 0 };
  };
  const [from, match, give] = [found(now?.table, lookup.from), found(table, lookup.match), found(table, lookup.give)];
  if (table && lookup.link && !(table.key.length === 1 && table.key[0] === give.name)) wrong("shapeLinkKey", path, { table: table.label });
  const name = given.name.trim();
  const nullable = !given.required;
  return {
    id: given.id,
    column: { name, label: humanise(name), type: give.type, storage: give.storage, nullable, misfits: 0 },
    value: {
      kind: "lookup",
      from,
      table: lookup.table,
      match,
      give,
      mapped: (given.mapped ?? []).map((m) => [m.written, m.text]),
      empty: given.misfits !== "refuse",
    },
    edit: {
      declared: declaration(give.type),
      notNull: given.required,
      references: lookup.link ? { table: lookup.table, column: give.name } : undefined,
    },
    required: !nullable,
    different: false,
    check: null,
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
  if (fresh.length === 0) return renamed ? "names" : "nothing";
  // The one value that all rows have must be the one that new rows get.
  const simple = fresh.every(
    ({ value, edit, different, check }) =>
      !different && !check && value.kind === "fill" && literal(value.stored) === (edit.fallback ?? "NULL") && !(edit.notNull && value.stored === null),
  );
  return simple ? "added" : "rebuild";
}
