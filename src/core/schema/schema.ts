import type { Table } from "../query/plan";
import type { Column, LinkComparison, LinkOperator } from "./column";

export type { Table } from "../query/plan";
export { type Column, LINK_OPERATORS, type LinkComparison, type LinkOperator } from "./column";

/** Columns that lie in the database. */
export const storedColumns = (table: Table): Column[] => table.columns.filter((c) => !c.derived);

/** One end of a link as seen from a row of the other table. */
export type LinkEnd = { table: string; columns: string[] /** the name of this end, seen from the other */; name: string; leadsTo: "one" | "many" };

/**
 * A relationship between two tables: a's columns compared with b's, one by one, all of which must hold. Without
 * operators they must be the same.
 */
export type Link = { id: string; a: LinkEnd; b: LinkEnd; operators?: LinkOperator[] | undefined; madeBy?: "key" | "person" | undefined };

/** A comparison turned round: what was on its right stands on its left. */
export const MIRRORED: Record<LinkOperator, LinkOperator> = {
  is: "is",
  isNot: "isNot",
  less: "greater",
  atMost: "atLeast",
  greater: "less",
  atLeast: "atMost",
};

/** The comparisons of a link for a walk toward one of its ends. */
export function comparisons(link: Link, toward: "a" | "b"): LinkComparison[] {
  const [near, far] = toward === "b" ? [link.a, link.b] : [link.b, link.a];
  return near.columns.map((column, i) => {
    const operator = link.operators?.[i] ?? "is";
    return { near: column, operator: toward === "b" ? operator : MIRRORED[operator], far: far.columns[i] ?? "" };
  });
}

/** A link or derived field whose table or column is gone, a table or view that cannot be read: kept, with the reason. */
export type Broken = { kind: "link" | "derived" | "table" | "view"; id: string; label: string; table: string; why: string };

export type Schema = {
  tables: Table[];
  links: Link[];
  /** Saved queries as tables whose rows can be read like any other's (query/queryTables.ts). */
  queries?: Table[] | undefined;
  broken?: Broken[] | undefined;
  /** What tells one making of a database's tables from another, where their types are read from values. */
  structure?: string | undefined;
};

/** A link that is gone, as a person knows it: by its label, or by the columns of its key. */
export const goneLinkWords = (schema: Schema, id: string): string =>
  schema.broken?.find((b) => b.id === id)?.label ?? (/^[0-9a-f-]{36}$/.test(id) ? "created here" : id);

/** A step along a link from one table: which end it leads to. */
export type Step = { link: string; toward: "a" | "b" };

export const findTable = (schema: Schema, name: string): Table | undefined =>
  schema.tables.find((t) => t.name === name) ?? schema.queries?.find((t) => t.name === name);

/** Whether a table's rows can be changed from here: not those of a view, nor of a database that is only read. */
export const mayChange = (table: Table): boolean => !table.view && !table.denied;

/** Whether a table's columns can be changed from here, and it be deleted. */
export const mayReshape = (table: Table): boolean => mayChange(table) && !table.onServer;

/** All that rows can be asked of: tables, and saved queries among them. */
export const tablesAndQueries = ({ tables, queries = [] }: Schema): Table[] => [...tables, ...queries.filter((t) => !t.inner)];

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

/**
 * The name of one row, of a table whose label may be of many. Plain English rules; us, is and ss are no plurals.
 * @example singular("companies") // "company"
 */
export function singular(noun: string): string {
  if (/(ss|us|is)$/i.test(noun)) return noun;
  if (/[^aeiou]ies$/i.test(noun)) return `${noun.slice(0, -3)}y`;
  return /(ss|x|ch|sh)es$/i.test(noun) ? noun.slice(0, -2) : noun.replace(/(?<=\w)s$/i, "");
}

/** The plural of a table's label, for counts and for links that lead to many. Plain English rules; a final s is taken for a plural. */
export function plural(noun: string): string {
  if (/(ss|x|z|ch|sh)$/.test(noun)) return `${noun}es`;
  if (noun.endsWith("s")) return noun;
  return /[^aeiou]y$/.test(noun) ? `${noun.slice(0, -1)}ies` : `${noun}s`;
}
