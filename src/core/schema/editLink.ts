import type { LinkSpec } from "./linkSpec";
import { type LinkOperator, plural, storedColumns, type Table } from "./schema";

/* A link while a person makes it, as functions from one description to the next. */

const firstColumn = (table: Table): string => storedColumns(table)[0]?.name ?? "";

/** A link between two tables as it is first offered: to the key of the other, each end called as its table is. */
export const firstLink = (near: Table, far: Table): LinkSpec => ({
  version: 1,
  a: { table: near.name, columns: [firstColumn(near)], name: plural(near.label) },
  b: { table: far.name, columns: [far.key[0] ?? firstColumn(far)], name: far.label },
  operators: ["is"],
});

/** A link between columns of two tables; where one is not said, what is first offered takes its place. */
export function linkOfColumns(near: Table, far: Table, columns: { near?: string | undefined; far?: string | undefined }): LinkSpec {
  const known = (table: Table, name: string | undefined) => (storedColumns(table).some((c) => c.name === name) ? name : undefined);
  const [from, to] = [known(near, columns.near), known(far, columns.far)];
  return changeComparison(firstLink(near, far), 0, { ...(from === undefined ? {} : { near: from }), ...(to === undefined ? {} : { far: to }) });
}

/** One of its comparisons with another column, or compared another way. */
export function changeComparison(spec: LinkSpec, at: number, change: { near?: string; operator?: LinkOperator; far?: string }): LinkSpec {
  const set = <T>(list: T[], value: T | undefined): T[] => list.map((old, i) => (i === at && value !== undefined ? value : old));
  return {
    ...spec,
    a: { ...spec.a, columns: set(spec.a.columns, change.near) },
    b: { ...spec.b, columns: set(spec.b.columns, change.far) },
    operators: set(spec.operators, change.operator),
  };
}

/** One comparison more, of the first columns of both. */
export const addComparison = (spec: LinkSpec, near: Table, far: Table): LinkSpec => ({
  ...spec,
  a: { ...spec.a, columns: [...spec.a.columns, firstColumn(near)] },
  b: { ...spec.b, columns: [...spec.b.columns, firstColumn(far)] },
  operators: [...spec.operators, "is"],
});

/** Without one of its comparisons; the last one stays. */
export function removeComparison(spec: LinkSpec, at: number): LinkSpec {
  if (spec.operators.length === 1) return spec;
  const without = <T>(list: T[]): T[] => list.filter((_, i) => i !== at);
  return {
    ...spec,
    a: { ...spec.a, columns: without(spec.a.columns) },
    b: { ...spec.b, columns: without(spec.b.columns) },
    operators: without(spec.operators),
  };
}
