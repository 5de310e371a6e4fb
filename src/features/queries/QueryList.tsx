"use client";

import type { Table } from "@/core/schema/schema";
import type { Listed } from "@/server/services/objects/lists";
import { Link } from "../Link";
import { ObjectList } from "../ObjectList";
import { tableRows } from "../tableRows";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { WORDS } from "./words";

/** The saved queries, and the tables a new one can start from. */
export function QueryList({ list, tables }: { list: Listed; tables: Pick<Table, "name" | "label" | "rows" | "reckoned">[] }) {
  const locale = useLocale();
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-6xl gap-10 px-8 py-6 md:grid-cols-[2fr_1fr]">
        <section>
          <PageHeading name={COMMON.queries} className="pb-4" />
          <ObjectList kind="query" first={list} empty={WORDS.noQueriesYetChooseA} />
          <Link href="/bin" className="text-small text-soft hover:text-ink">
            {COMMON.deletedItems}
          </Link>
        </section>
        <section>
          <h2 className="pt-2 pb-3 font-serif text-[1.125rem] font-semibold">{WORDS.newQueryFromATable}</h2>
          <ul>
            {tables.map((t) => (
              <li key={t.name}>
                <Link
                  href={`/queries/new?from=${encodeURIComponent(t.name)}`}
                  className="flex justify-between gap-3 border-t border-hairline py-1.5 hover:bg-bottle-tint"
                >
                  <span className="font-semibold text-bottle">{t.label}</span>
                  <span className="text-soft">{tableRows(t, locale, "row")}</span>
                </Link>
              </li>
            ))}
            {tables.length === 0 && <p className="text-soft">{WORDS.thisDatabaseHasNoTables}</p>}
          </ul>
        </section>
      </div>
    </div>
  );
}
