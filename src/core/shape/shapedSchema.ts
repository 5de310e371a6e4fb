import { type Broken, humanise, type Link, type LinkEnd, type Schema, type Table } from "../schema/schema";
import { problem, sentence } from "../types/problem";
import type { ShapePlan } from "./shapePlan";

/** What names of a table and its columns become; null where a column is dropped. */
export type ShapeNames = { from: string; to: string; columns: [from: string, to: string | null][] };

export const namesOf = ({ table, name, columns, dropped }: ShapePlan): ShapeNames => ({
  from: table ?? name,
  to: name,
  columns: [
    ...columns.flatMap(({ value, column }): [string, string][] =>
      value.kind === "same" ? [[value.column, column.name]] : value.kind === "convert" ? [[value.from.name, column.name]] : [],
    ),
    ...dropped.map((c): [string, null] => [c.name, null]),
  ],
});

/** An end of a link under the new names; null where one of its columns is dropped. */
export function endNamed<E extends Pick<LinkEnd, "table" | "columns">>(end: E, { from, to, columns }: ShapeNames): E | null {
  if (end.table !== from) return end;
  const names = end.columns.map((c) => columns.find(([name]) => name === c)?.[1] ?? null);
  return names.some((name) => name === null) ? null : { ...end, table: to, columns: names as string[] };
}

/** The id of a link that a foreign key makes: its table and its columns. A link that a person made keeps its own. */
export function linkIdNamed({ id, a, madeBy }: Link, names: ShapeNames): string {
  const named = madeBy === "person" ? null : endNamed(a, names);
  return named && id === `${a.table}.${a.columns.join("+")}` ? `${named.table}.${named.columns.join("+")}` : id;
}

/** The database's shape as it will be: links go along with names, and are broken where a column of theirs is dropped. */
export function shapedSchema(schema: Schema, plan: ShapePlan): Schema {
  const names = namesOf(plan);
  const shaped = (table: Table): Table => ({
    ...table,
    name: plan.name,
    label: plan.name === table.name ? table.label : humanise(plan.name),
    columns: plan.columns.map((c) => c.column),
    key: plan.key ?? table.key.flatMap((k) => names.columns.find(([name]) => name === k)?.[1] ?? []),
  });
  const links = schema.links.map((link): Link | Broken => {
    const [a, b] = [endNamed(link.a, names), endNamed(link.b, names)];
    if (a && b) return { ...link, id: linkIdNamed(link, names), a, b };
    const lost = [link.a, link.b].find((end) => end.table === names.from) as LinkEnd;
    return {
      kind: "link",
      id: link.id,
      label: lost.name,
      table: plan.name,
      why: sentence(problem("columnGone", [], { table: plan.name, column: lost.columns.join(", ") })),
    };
  });
  return {
    ...schema,
    tables: schema.tables.map((t) => (t.name === plan.table ? shaped(t) : t)),
    links: links.filter((l): l is Link => "a" in l),
    broken: [...(schema.broken ?? []), ...links.filter((l): l is Broken => !("a" in l))],
  };
}

/** The database's shape without a table. */
export function schemaWithout(schema: Schema, table: string): Schema {
  const without = ({ a, b }: Link) => a.table !== table && b.table !== table;
  return { ...schema, tables: schema.tables.filter((t) => t.name !== table), links: schema.links.filter(without) };
}
