import type { ValueType } from "../types/valueType";

/** How a decimal lies in storage: as an integer of its smallest unit, as a binary number, or as digits. */
export type Storage = "plain" | "scaledInteger" | "real" | "digits";

export type Column = {
  name: string;
  label: string;
  type: ValueType;
  storage: Storage;
  nullable: boolean;
  /** Shown beside a figure: "kg", or an ISO 4217 code. */
  unit?: string | undefined;
  /** Stored values that do not fit the type, counted when the file was last read. */
  misfits: number;
};

export type Table = {
  name: string;
  label: string;
  columns: Column[];
  /** Columns that tell one row from another; empty where the table has no key. */
  key: string[];
  rows: number;
};

/** One end of a link as seen from a row of the other table. */
export type LinkEnd = { table: string; columns: string[] /** the name of this end, seen from the other */; name: string; leadsTo: "one" | "many" };

/** A relationship between two tables, compared column by column for equality. */
export type Link = { id: string; a: LinkEnd; b: LinkEnd };

export type Schema = { tables: Table[]; links: Link[] };

/** A step along a link from one table: which end it leads to. */
export type Step = { link: string; toward: "a" | "b" };

export const findTable = (schema: Schema, name: string): Table | undefined => schema.tables.find((t) => t.name === name);

export const findColumn = (table: Table, name: string): Column | undefined => table.columns.find((c) => c.name === name);

/** The steps that lead away from a table, those to one first. */
export function stepsFrom(schema: Schema, table: string): { step: Step; near: LinkEnd; far: LinkEnd }[] {
  const steps = schema.links.flatMap((link) => [
    ...(link.a.table === table ? [{ step: { link: link.id, toward: "b" as const }, near: link.a, far: link.b }] : []),
    ...(link.b.table === table ? [{ step: { link: link.id, toward: "a" as const }, near: link.b, far: link.a }] : []),
  ]);
  return [...steps.filter((s) => s.far.leadsTo === "one"), ...steps.filter((s) => s.far.leadsTo === "many")];
}

/** Words from a stored name: "freight_charge" and "freightCharge" both read "freight charge"; capitals that stand together stay. */
export const humanise = (name: string): string =>
  name
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/_+/g, " ")
    .trim()
    .replace(/\b[A-Z][a-z]+/g, (word) => word.toLowerCase()) || name;

/** The plural of a table's label, for counts and for links that lead to many. Plain English rules; a final s is taken for a plural. */
export function plural(noun: string): string {
  if (/(ss|x|z|ch|sh)$/.test(noun)) return `${noun}es`;
  if (noun.endsWith("s")) return noun;
  return /[^aeiou]y$/.test(noun) ? `${noun.slice(0, -1)}ies` : `${noun}s`;
}
