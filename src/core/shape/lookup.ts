import { type Column, humanise, mayChange, storedColumns, type Table } from "../schema/schema";
import { text, whole } from "../types/valueType";
import { declaration } from "./declaration";
import { misfitsOf } from "./edit";
import { checkName, isSame } from "./names";
import type { ShapeContext, ShapeMake, ShapePlanColumn, Wrong } from "./shapePlan";
import type { ShapeColumn, ShapeSpec } from "./spec";

type Lookup = NonNullable<ShapeColumn["lookup"]>;

/** A new column whose values are found by those of another. */
export function planLookup(given: ShapeColumn, lookup: Lookup, spec: ShapeSpec, { now, tables }: ShapeContext, wrong: Wrong): ShapePlanColumn {
  const path = ["columns", given.id, "lookup"];
  const table = lookup.made ? madeTable(lookup, now?.table) : tables.find((t) => t.name === lookup.table && mayChange(t));
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
      table: table?.name ?? lookup.table,
      match,
      give,
      mapped: (given.mapped ?? []).map((m) => [m.written, m.text]),
      empty: misfitsOf(spec, given) === "empty",
    },
    edit: {
      declared: declaration(give.type),
      notNull: given.required,
      references: lookup.link ? { table: table?.name ?? lookup.table, column: give.name } : undefined,
    },
    required: !nullable,
    different: false,
    check: null,
  };
}

/** A table that is to be made of columns of another, its rows numbered. */
function madeTable({ table, give, made }: Lookup, of: Table | undefined): Table {
  const number: Column = { name: give, label: humanise(give), type: whole, storage: "plain", nullable: false, misfits: 0, filled: "number" };
  const columns = (made?.columns ?? []).flatMap(({ from, name }): Column[] => {
    const column = of?.columns.find((c) => c.name === from && !c.derived);
    return column ? [{ ...column, name: name.trim(), nullable: true }] : [];
  });
  return { name: table.trim(), label: humanise(table.trim()), columns: [number, ...columns], key: [give], rows: 0 };
}

/** What is made before a column can be looked up: the rows its values do not find, or the table. */
export function planMake(given: ShapeColumn, { now, tables, taken }: ShapeContext, name: string, wrong: Wrong): ShapeMake[] {
  const { lookup, id } = given;
  if (!lookup?.link || given.from !== null || !now) return [];
  const stored = (of: Table | undefined, column: string) => of?.columns.find((c) => c.name === column && !c.derived);
  const by = stored(now.table, lookup.from);
  if (lookup.made) return by ? [planMadeTable(id, { ...lookup, made: lookup.made }, by, { now, taken }, name, wrong)] : [];
  const table = given.misfits === "make" ? tables.find((t) => t.name === lookup.table && mayChange(t)) : undefined;
  const match = stored(table, lookup.match);
  if (!table || !match || !by) return [];
  const path = ["columns", id, "lookup"];
  if (table.trigger) wrong("postingTrigger", path, { table: table.label, trigger: table.trigger });
  const missing = storedColumns(table).find((c) => !c.nullable && !c.filled && !c.generated && c.name !== match.name);
  if (missing) wrong("shapeMakeRequired", path, { table: table.label, column: missing.label });
  return [{ kind: "rows", id, table: { ...table, columns: storedColumns(table) }, match, from: by, mapped: (given.mapped ?? []).map((m) => m.written) }];
}

function planMadeTable(
  id: string,
  lookup: Lookup & { made: NonNullable<Lookup["made"]> },
  by: Column,
  { now, taken }: { now: NonNullable<ShapeContext["now"]>; taken: string[] },
  own: string,
  wrong: Wrong,
): ShapeMake {
  const { made } = lookup;
  const path = ["columns", id, "lookup"];
  const name = lookup.table.trim();
  checkName(name, path, wrong);
  const other = [...taken, own].find((t) => isSame(t, name));
  if (other !== undefined) wrong("shapeNameTaken", path, { name: other });
  const columns = made.columns.flatMap(({ from, name: called }) => {
    const column = now.table.columns.find((c) => c.name === from && !c.derived);
    if (!column) wrong("columnGone", path, { table: now.table.label, column: from });
    checkName(called, path, wrong);
    const declared = now.sql.columns.find((c) => isSame(c.name, from))?.type ?? "";
    return column ? [{ from: column, name: called.trim(), declared }] : [];
  });
  const names = [lookup.give.trim(), ...columns.map((c) => c.name)];
  const twice = names.find((n, i) => names.findIndex((o) => isSame(o, n)) < i);
  if (twice !== undefined) wrong("duplicateName", path, { name: twice });
  return { kind: "table", id, name, key: lookup.give.trim(), by, columns, differing: made.differing };
}
