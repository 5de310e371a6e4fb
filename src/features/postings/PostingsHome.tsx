"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { PostingSource } from "@/core/posting/spec";
import { mayChange, type Schema } from "@/core/schema/schema";
import type { JournalPage } from "@/server/jobs/posting/journalFind";
import { Link } from "../Link";
import { useMakeFrom } from "../useMakeFrom";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { JournalList } from "./JournalList";
import { JournalTable } from "./JournalTable";
import { WORDS } from "./words";

type Named = { id: string; name: string };
type Props = { schema: Schema; journal: JournalPage; people: string[]; drafts: Named[]; queries: Named[] };

/** Where postings begin: from a table, a query or a file, into a table; and what has been posted. */
export function PostingsHome({ schema, journal, people, drafts, queries }: Props) {
  const router = useRouter();
  const make = useMakeFrom();
  const _locale = useLocale();
  const tables = schema.tables.filter(mayChange);
  const [from, setFrom] = useState(`table ${tables.find((t) => t.key.length === 0)?.name ?? tables[0]?.name ?? ""}`);
  const [target, setTarget] = useState(tables.find((t) => t.key.length > 0)?.name ?? "");

  async function begin(): Promise<void> {
    const [kind = "", ...rest] = from.split(" ");
    const id = rest.join(" ");
    const source: PostingSource = kind === "query" ? { kind, id, values: {} } : { kind: "table", table: id };
    await make("/api/postings/new", "/postings", { source, target });
    router.refresh();
  }

  return (
    <div className="flex h-full">
      <nav aria-label={WORDS.journal} className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
        <JournalList journal={journal.entries} drafts={drafts} />
      </nav>
      <section className="min-w-0 flex-1 overflow-auto px-8 py-6">
        <PageHeading name={COMMON.postings} className="pb-2" />
        <p className="max-w-2xl pb-5 text-soft">{WORDS.aPostingAddsChangesOr}</p>
        <div className="flex max-w-3xl flex-wrap items-end gap-3 border border-rule bg-sheet p-4">
          <label className="grid gap-0.5 text-small">
            {WORDS.takeRowsFrom}
            <select className="field w-60" aria-label={WORDS.takeRowsFrom} value={from} onChange={(e) => setFrom(e.target.value)}>
              <optgroup label={WORDS.tables}>
                {schema.tables.map((t) => (
                  <option key={t.name} value={`table ${t.name}`}>
                    {t.label}
                  </option>
                ))}
              </optgroup>
              <optgroup label={WORDS.queries}>
                {queries.map((q) => (
                  <option key={q.id} value={`query ${q.id}`}>
                    {q.name}
                  </option>
                ))}
              </optgroup>
            </select>
          </label>
          <label className="grid gap-0.5 text-small">
            {WORDS.into}
            <select className="field w-52" aria-label={WORDS.into} value={target} onChange={(e) => setTarget(e.target.value)}>
              {tables.map((t) => (
                <option key={t.name} value={t.name}>
                  {t.label}
                </option>
              ))}
            </select>
          </label>
          <button type="button" className="button-primary" onClick={begin}>
            {COMMON.newPosting}
          </button>
          <span className="text-small text-soft">
            {WORDS.toPostRowsFromA}{" "}
            <Link className="link" href="/tables">
              {COMMON.tables}
            </Link>
            .
          </span>
        </div>
        <JournalTable schema={schema} journal={journal} people={people} />
      </section>
    </div>
  );
}
