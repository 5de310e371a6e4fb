import type { LinkSpec } from "@/core/schema/linkSpec";
import { type Broken, humanise, type Link, plural, type Table } from "@/core/schema/schema";
import type { MadeLink } from "@/core/schema/told";
import { problem, sentence } from "@/core/types/problem";

/* The links of a database, whichever it is: those that its foreign keys tell, and those that people made. */

/** Columns of a table that a key of the database leads elsewhere. */
export type Reference = { near: string[]; parent: string; far: string[] };

/** Whether columns of a table tell its rows apart. */
type TellsApart = (table: string, columns: string[]) => boolean;

/** The links that lead away from a table by its foreign keys. */
export function linksOf(child: Table, references: Reference[], tables: Table[], isUnique: TellsApart): Link[] {
  return references.flatMap(({ near, parent: name, far }): Link[] => {
    const parent = tables.find((t) => t.name === name);
    const known = (table: Table, columns: string[]) => columns.every((c) => table.columns.some((k) => k.name === c));
    if (!parent || !known(child, near) || !known(parent, far)) return [];
    const named = linkName(near, parent);
    const siblings = references.filter((r) => r.parent === name).length;
    const childName = siblings > 1 || child.name === parent.name ? `${plural(child.label)} by ${named}` : plural(child.label);
    return [
      {
        id: `${child.name}.${near.join("+")}`,
        a: { table: child.name, columns: near, name: childName, leadsTo: isUnique(child.name, near) ? "one" : "many" },
        b: { table: parent.name, columns: far, name: named, leadsTo: isUnique(parent.name, far) ? "one" : "many" },
      },
    ];
  });
}

/** The name of a link as its column says it: "from_harbour_id" leads to the "from harbour". */
function linkName(columns: string[], parent: Table): string {
  const [column] = columns;
  if (columns.length > 1 || !column) return parent.label;
  const stem = humanise(column.replace(/[_ ]?(id|key|code|no)$/i, ""));
  return stem === "" ? parent.label : stem;
}

/** A link a person made, with what the data says of its ends; or why it cannot be followed now. */
export function checkMadeLink({ id, label, spec }: MadeLink, tables: Table[], tellsApart: TellsApart): { link: Link } | { broken: Broken } {
  for (const end of [spec.a, spec.b]) {
    const table = tables.find((t) => t.name === end.table);
    const gone = end.columns.find((c) => !table?.columns.some((k) => k.name === c));
    const why = !table ? problem("tableGone", [], { table: end.table }) : gone && problem("columnGone", [], { table: end.table, column: gone });
    if (why) return { broken: { kind: "link", id, label, table: spec.a.table, why: sentence(why) } };
  }
  const equal = spec.operators.every((o) => o === "is");
  const end = (e: LinkSpec["a"]) => ({ ...e, leadsTo: equal && tellsApart(e.table, e.columns) ? ("one" as const) : ("many" as const) });
  return { link: { id, a: end(spec.a), b: end(spec.b), operators: spec.operators, madeBy: "person" } };
}
