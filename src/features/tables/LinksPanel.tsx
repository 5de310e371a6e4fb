"use client";

import Link from "next/link";
import { comparisons, type Schema, stepsFrom, type Table } from "@/core/schema/schema";

/** The links of a table, seen from its rows. */
export function LinksPanel({ table, schema }: { table: Table; schema: Schema; onSaved: () => void }) {
  const steps = stepsFrom(schema, table.name);
  return (
    <ul>
      {steps.map(({ step, far }) => (
        <li key={`${step.link} ${step.toward}`} className="border-b border-hairline py-1">
          <span className={far.leadsTo === "many" ? "text-ochre" : "text-soft"}>{far.leadsTo}</span>{" "}
          <Link className="link" href={`/tables/${encodeURIComponent(far.table)}`}>
            {far.name}
          </Link>
        </li>
      ))}
      {steps.length === 0 && <p className="text-soft">No link leads from or to this table.</p>}
    </ul>
  );
}

export { comparisons };
