"use client";

import dynamic from "next/dynamic";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { findTable, type Schema, stepsFrom } from "@/core/schema/schema";
import { Notice } from "@/ui/Notice";
import { ImportDrop } from "../import/ImportDrop";
import { Link } from "../Link";
import { tableRows } from "../tableRows";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import type { Point } from "./mapLayout";
import { WORDS } from "./words";

/** The tables of the business database with their size, key and links. */
export function TableList(props: Props) {
  return <ImportDrop>{(choose) => <List {...props} choose={choose} />}</ImportDrop>;
}

/** `places` is where a person put the tables of the map, `map` whether that is shown first. */
type Props = { schema: Schema; places: Record<string, Point>; map: boolean };

const TableMap = dynamic(() => import("./TableMap"), { ssr: false });

function List({ schema, places, map, choose }: Props & { choose: () => void }) {
  const router = useRouter();
  const locale = useLocale();
  const [wanted, setWanted] = useState("");
  const [asMap, setAsMap] = useState(map);
  /** The page comes back as it was left. */
  function show(): void {
    window.history.replaceState(null, "", asMap ? "/tables" : "/tables?view=map");
    setAsMap(!asMap);
  }
  const unread = schema.broken?.filter((b) => b.kind === "table" || b.kind === "view") ?? [];
  const kept = schema.broken?.filter((b) => !unread.includes(b) && !findTable(schema, b.table)) ?? [];
  const found = schema.tables.filter((t) => t.label.toLowerCase().includes(wanted.trim().toLowerCase()));
  return (
    <div className={asMap ? "flex h-full flex-col" : "h-full overflow-auto"}>
      <div className={asMap ? "px-8 pt-6" : "mx-auto max-w-5xl px-8 py-6"}>
        <div className="flex flex-wrap items-center gap-3 pb-4">
          <PageHeading name={COMMON.tables} />
          <span className="text-small text-soft">{WORDS.dropAFileHereOr}</span>
          <span className="ml-auto flex items-center gap-2">
            <input
              className="field w-44"
              placeholder={COMMON.findATable}
              aria-label={COMMON.findATable}
              value={wanted}
              onChange={(e) => setWanted(e.target.value)}
            />
            <button type="button" className="button" aria-pressed={asMap} onClick={show}>
              {asMap ? WORDS.list : WORDS.map}
            </button>
            {!schema.tables.some((t) => t.onServer) && (
              <Link href="/tables/import/blank" className="button">
                {WORDS.newTable}
              </Link>
            )}
            <button type="button" className="button-primary" onClick={choose}>
              {COMMON.importFile}
            </button>
          </span>
        </div>
        {schema.tables.length === 0 && <p className="text-soft">{WORDS.thisDatabaseHasNoTables}</p>}
        {unread.map((b) => (
          <Notice key={b.id} tone="look">
            <b>{WORDS.objectUnreadable(b.kind, b.id)}</b> {b.why}
          </Notice>
        ))}
        {kept.length > 0 && (
          <Notice tone="look">
            {WORDS.keptMissing(kept.map((b) => WORDS.objectOf(b.kind === "link" ? WORDS.theLink : WORDS.theDerivedField, b.label, b.table)).join(", "))}
          </Notice>
        )}
        {!asMap && (
          <table className="w-full">
            <thead>
              <tr className="border-b border-ink text-left text-small">
                <th className="py-1.5">{COMMON.table}</th>
                <th className="pr-6 text-right">{COMMON.rowsHeading}</th>
                <th className="pr-6 text-right">{COMMON.columns}</th>
                <th className="pr-6">{COMMON.key}</th>
                <th>{WORDS.linksTo}</th>
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
                  <td className="py-1.5 pr-6 text-right">{tableRows(t, locale)}</td>
                  <td className="py-1.5 pr-6 text-right">{t.columns.length}</td>
                  <td className="py-1.5 pr-6">{t.key.length > 0 ? t.key.join(", ") : <span className="text-ochre">{WORDS.noKey}</span>}</td>
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
        <div className="relative min-h-0 flex-1 border-t border-rule">
          <TableMap schema={schema} wanted={wanted} places={places} onLinked={() => router.refresh()} />
        </div>
      )}
    </div>
  );
}
