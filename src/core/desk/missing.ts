import { renameInFormula } from "../expression/parse";
import { queryTableName } from "../query/choices";
import { sameName } from "../query/operands";
import { resolveTables } from "../query/scope";
import { type QuerySpec, querySpecSchema } from "../query/spec";
import { findTable, humanise, type Schema } from "../schema/schema";
import type { Problem } from "../types/problem";

/*
 * What saved objects name and that is not there any more: found out of their problems, and put in its place in all of them
 * what stands for it now.
 */

/** A table by its name, a column by its table's label (a query's own by the query's name among the tables), another saved object by its id. */
export type Missing = { what: "table"; table: string } | { what: "column"; table: string; column: string } | { what: "object"; id: string };

/** A saved object as it is looked at: `gone` are the ids it is made from that do not exist any more. */
type Broken = { kind: string; spec: unknown; problems: Problem[]; gone: string[] };

/** What a broken object misses, each once; nothing where what is wrong is of another kind, such as a link. */
export function missingOf({ kind, spec, problems, gone }: Broken): Missing[] {
  const objects = gone.map((id): Missing => ({ what: "object", id }));
  const others = problems.flatMap(({ code, detail }): Missing[] => {
    if (code === "tableGone") return gone.some((id) => queryTableName(id) === detail.table) ? [] : [{ what: "table", table: String(detail.table) }];
    if (code === "columnGone" || code === "groupGone") {
      const table = kind === "query" ? String(detail.table) : queryTableName(queryIn(spec));
      return [{ what: "column", table, column: String(detail.column) }];
    }
    // A formula names its fields by their labels: of the source where nothing else is said.
    if (code === "unknownField" && kind === "query") return [{ what: "column", table: sourceLabel(spec), column: String(detail.name) }];
    return [];
  });
  const each = new Map([...objects, ...others].map((m) => [JSON.stringify(m), m]));
  return [...each.values()];
}

const part = (spec: unknown, name: string): string => {
  const found = (spec as Record<string, unknown> | null)?.[name];
  return typeof found === "string" ? found : "";
};
const queryIn = (spec: unknown): string => part(spec, "query");
const sourceLabel = (spec: unknown): string => humanise(part(spec, "source"));

/** Whether a column that is missing is this one: problems tell of it by its name, formulas by its label. */
const isColumn = (name: string, column: string): boolean => sameName(humanise(name), humanise(column));

type Walked = Record<string, unknown>;
/** Every part of a description, the innermost first, each changed as it is said. */
function mapParts(value: unknown, change: (part: Walked) => Walked): unknown {
  if (Array.isArray(value)) return value.map((v) => mapParts(v, change));
  if (typeof value !== "object" || value === null) return value;
  return change(Object.fromEntries(Object.entries(value).map(([key, v]) => [key, mapParts(v, change)])));
}

/** The parts of descriptions whose texts name tables, and those that name other objects. */
const NAMES_TABLE = ["source", "table", "here", "there"];
const NAMES_OBJECT = ["query", "id", "object", ...NAMES_TABLE];

/** A part with some of its texts, and those of its list of sources, changed. */
function renamed(part: Walked, keys: readonly string[], change: (text: string) => string): Walked {
  const one = (key: string, value: unknown): unknown => {
    if (typeof value === "string") return keys.includes(key) ? change(value) : value;
    return key === "parts" && Array.isArray(value) ? value.map((v) => (typeof v === "string" ? change(v) : v)) : value;
  };
  return Object.fromEntries(Object.entries(part).map(([key, value]) => [key, one(key, value)]));
}

/**
 * A description with something in the place of what it misses: wherever it names that, in formulas too. Links of the table,
 * or by the column, become those of the other where there are such.
 * @param to the table's name, the column's name, or the object's id that stands for it
 * @param schema as it is now
 */
export function replaceMissing(kind: string, spec: unknown, missing: Missing, to: string, schema: Schema): unknown {
  const relinked = (from: string, into: string) => (part: Walked) =>
    typeof part.link === "string" && (part.link === from || (from.endsWith(".") && part.link.startsWith(from)))
      ? { ...part, link: linkThere(part.link, into + part.link.slice(from.length), schema) }
      : part;
  switch (missing.what) {
    case "table": {
      const links = relinked(`${missing.table}.`, `${to}.`);
      return mapParts(spec, (p) => links(renamed(p, NAMES_TABLE, (text) => (text === missing.table ? to : text))));
    }
    case "object": {
      const [from, into] = [queryTableName(missing.id), queryTableName(to)];
      return mapParts(spec, (p) => renamed(p, NAMES_OBJECT, (text) => (text === missing.id ? to : text === from ? into : text)));
    }
    case "column":
      return kind === "query"
        ? columnOfTable(spec, missing, to, schema, relinked)
        : mapParts(spec, (p) => (p.column === missing.column ? { ...p, column: to } : p));
    default:
      return missing satisfies never;
  }
}

const linkThere = (before: string, after: string, { links }: Schema): string => (links.some((l) => l.id === after) ? after : before);

/** A query with another column of a table: where a field, a value or a formula names it. */
function columnOfTable(
  spec: unknown,
  { table, column }: Extract<Missing, { what: "column" }>,
  to: string,
  schema: Schema,
  relinked: (from: string, into: string) => (part: Walked) => Walked,
): unknown {
  const read = querySpecSchema.safeParse(spec).data as QuerySpec | undefined;
  const source = read && findTable(schema, read.source);
  if (!read || !source) return spec;
  const scope = resolveTables(read, schema, source, []);
  const isTable = (join: unknown) => scope.some((s) => s.id === join && s.table.label === table);
  const named = findTable(schema, schema.tables.find((t) => t.label === table)?.name ?? "");
  const label = named?.columns.find((c) => c.name === to)?.label ?? humanise(to);
  const link = named ? relinked(`${named.name}.${column}`, `${named.name}.${to}`) : (p: Walked) => p;
  return mapParts(read, (p) => {
    if (p.kind === "field" && isColumn(String(p.column), column) && isTable(p.join)) return { ...p, column: to };
    if (p.kind === "rows" && p.column === column && findTable(schema, String(p.table))?.label === table) return { ...p, column: to };
    if (p.kind === "formula" && typeof p.text === "string" && source.label === table)
      return { ...p, text: renameInFormula(p.text, (n) => isColumn(n, column), label) };
    return link(p);
  });
}
