"use client";

import dynamic from "next/dynamic";
import { useState } from "react";
import { findTable, type Schema, stepsFrom } from "@/core/schema/schema";
import { writeCount } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { BringIn } from "../import/BringIn";
import { Link } from "../Link";
import { useLocale } from "../shell/Shell";

/** The tables of the business database with their size, key and links. */
export function TableList({ schema }: { schema: Schema }) {
  return <BringIn>{(choose) => <List schema={schema} choose={choose} />}</BringIn>;
}

const TableMap = dynamic(() => import("./TableMap"), { ssr: false });

function List({ schema, choose }: { schema: Schema; choose: () => void }) {
  const locale = useLocale();
  const [wanted, setWanted] = useState("");
  const [asMap, setAsMap] = useState(false);
  const unread = schema.broken?.filter((b) => b.kind === "table" || b.kind === "view") ?? [];
  const kept = schema.broken?.filter((b) => !unread.includes(b) && !findTable(schema, b.table)) ?? [];
  const found = schema.tables.filter((t) => t.label.toLowerCase().includes(wanted.trim().toLowerCase()));
  return (
    <div className={asMap ? "flex h-full flex-col" : "h-full overflow-auto"}>
      <div className={asMap ? "px-8 pt-6" : "mx-auto max-w-5xl px-8 py-6"}>
        <div className="flex flex-wrap items-center gap-3 pb-4">
          <h1 className="font-serif text-title font-semibold">Tables</h1>
          <span className="text-small text-soft">Drop a file here, or paste rows: CSV, TSV, XLSX, JSON</span>
          <span className="ml-auto flex items-center gap-2">
            <input className="field w-44" placeholder="Find a table" aria-label="Find a table" value={wanted} onChange={(e) => setWanted(e.target.value)} />
            <button type="button" className="button" aria-pressed={asMap} onClick={() => setAsMap(!asMap)}>
              {asMap ? "As a list" : "As a map"}
            </button>
            <button type="button" className="button-primary" onClick={choose}>
              Bring a file in
            </button>
          </span>
        </div>
        {schema.tables.length === 0 && (
          <p className="text-soft">This database has no tables. Start the ledger on another file: npm start -- --database FILE.sqlite</p>
        )}
        {unread.map((b) => (
          <Notice key={b.id} tone="look">
            <b>
              The {b.kind} “{b.id}” cannot be read.
            </b>{" "}
            {b.why}
          </Notice>
        ))}
        {kept.length > 0 && (
          <Notice tone="look">
            Kept, though the table is gone, and working again when it is back:{" "}
            {kept.map((b) => `${b.kind === "link" ? "the link" : "the derived field"} “${b.label}” of ${b.table}`).join(", ")}.
          </Notice>
        )}
        {!asMap && (
          <table className="w-full">
            <thead>
              <tr className="border-b border-ink text-left text-small">
                <th className="py-1.5">Table</th>
                <th className="pr-6 text-right">Rows</th>
                <th className="pr-6 text-right">Columns</th>
                <th className="pr-6">Key</th>
                <th>Leads to</th>
              </tr>
            </thead>
            <tbody>
              {found.map((t) => (
                <tr key={t.name} className="border-b border-hairline align-top">
                  <td className="py-1.5 pr-6">
                    <Link className="link" href={`/tables/${encodeURIComponent(t.name)}`}>
                      {t.label}
                    </Link>
                  </td>
                  <td className="py-1.5 pr-6 text-right">{writeCount(t.rows, locale)}</td>
                  <td className="py-1.5 pr-6 text-right">{t.columns.length}</td>
                  <td className="py-1.5 pr-6">{t.key.length > 0 ? t.key.join(", ") : <span className="text-ochre">no key</span>}</td>
                  <td className="py-1.5 text-soft">
                    {stepsFrom(schema, t.name)
                      .map((s) => `${s.far.leadsTo} ${s.far.name}`)
                      .join(", ")}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
      {asMap && (
        <div className="min-h-0 flex-1 border-t border-rule">
          <TableMap schema={schema} wanted={wanted} />
        </div>
      )}
    </div>
  );
}
