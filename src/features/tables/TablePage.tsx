"use client";

import Link from "next/link";
import { useMemo, useState } from "react";
import { sortBy } from "@/core/query/edit";
import { resolveQuery } from "@/core/query/resolve";
import { emptyQuery, type QuerySpec } from "@/core/query/spec";
import { type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import { counted } from "@/core/types/format";
import { TYPE_WORDS } from "@/core/types/valueType";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { QuerySheet } from "../queries/QuerySheet";
import { useRun } from "../queries/useRun";
import { useLocale } from "../shell/Shell";

const allColumns = (table: Table): QuerySpec => ({
  ...emptyQuery(table.name),
  columns: table.columns.map((c, i) => ({ id: `c${i}`, value: { kind: "field", join: "", column: c.name } })),
});

/** One table: its rows as a sheet, its columns and links in the margin. */
export function TablePage({ table, schema, today }: { table: Table; schema: Schema; today: string }) {
  const locale = useLocale();
  const [spec, setSpec] = useState(() => allColumns(table));
  const resolved = useMemo(() => resolveQuery(spec, schema, { today, values: {} }), [spec, schema, today]);
  const plan = resolved.ok ? resolved.value : null;
  const run = useRun(plan ? { spec, values: {} } : null, plan);
  const misfits = table.columns.filter((c) => c.misfits > 0);
  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4">
        <div className="flex items-center gap-3">
          <h1 className="font-serif text-title font-semibold">{table.label}</h1>
          <Link href="/tables" className="text-small text-soft hover:text-ink">
            all tables
          </Link>
          <Link href={`/queries/new?from=${encodeURIComponent(table.name)}`} className="button-primary ml-auto">
            Ask from this table
          </Link>
        </div>
        {table.key.length === 0 && (
          <Notice tone="look">This table has no key, so two rows alike cannot be told apart. It can be read and counted all the same.</Notice>
        )}
        {misfits.length > 0 && (
          <Notice tone="look">
            {misfits
              .map((c) => `${counted(c.misfits, "value", locale)} of “${c.label}” ${c.misfits === 1 ? "is" : "are"} no ${TYPE_WORDS[c.type.kind]}`)
              .join("; ")}
            . They are shown as stored and left out of totals.
          </Notice>
        )}
        {run.failure && <Notice tone="wrong">{run.failure.message}</Notice>}
        {run.shown && <QuerySheet plan={run.shown.plan} run={run} name={table.label} onSort={(column) => setSpec(sortBy(spec, column))} />}
      </section>
      <Margin
        parts={[
          {
            name: "Columns",
            content: (
              <ul>
                {table.columns.map((c) => (
                  <li key={c.name} className="flex justify-between gap-2 border-b border-hairline py-1">
                    <span className="truncate" title={c.name}>
                      {c.label}
                      {table.key.includes(c.name) && <span className="text-soft"> key</span>}
                    </span>
                    <span className="text-soft">
                      {TYPE_WORDS[c.type.kind]}
                      {c.unit ? `, ${c.unit}` : ""}
                    </span>
                  </li>
                ))}
              </ul>
            ),
          },
          {
            name: "Links",
            content: (
              <ul>
                {stepsFrom(schema, table.name).map(({ step, near, far }) => (
                  <li key={`${step.link} ${step.toward}`} className="border-b border-hairline py-1">
                    <span className={far.leadsTo === "many" ? "text-ochre" : "text-soft"}>{far.leadsTo}</span>{" "}
                    <Link className="link" href={`/tables/${encodeURIComponent(far.table)}`}>
                      {far.name}
                    </Link>
                    <br />
                    <span className="text-small text-soft">
                      {near.columns.join(", ")} = {far.table}.{far.columns.join(", ")}
                    </span>
                  </li>
                ))}
                {stepsFrom(schema, table.name).length === 0 && <p className="text-soft">No foreign key leads from or to this table.</p>}
              </ul>
            ),
          },
        ]}
      />
    </div>
  );
}
