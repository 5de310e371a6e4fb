"use client";

import { useState } from "react";
import { toast } from "sonner";
import { EVERY_ENTRY, isEveryEntry, JOURNAL_EXPORTS, type JournalFind } from "@/core/posting/journalFind";
import { ROW_FORMATS } from "@/core/schedule/choices";
import { findTable, mayChange, type Schema } from "@/core/schema/schema";
import { writeCount } from "@/core/types/format";
import { date } from "@/core/types/valueType";
import type { JournalPage } from "@/server/jobs/posting/journalFind";
import { BriefPopover } from "@/ui/Brief";
import { ask, sentenceOf } from "../ask";
import { makeFile } from "../DeedsMenu";
import { TypedInput } from "../editors/TypedInput";
import { Link } from "../Link";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { entrySign } from "./JournalList";
import { WORDS } from "./words";

type Props = { schema: Schema; journal: JournalPage; people: string[] };

/** The journal, searched by text, table, person and day, and exported as it is found. */
export function JournalTable({ schema, journal, people }: Props) {
  const [find, setFind] = useState(EVERY_ENTRY);
  const every = isEveryEntry(find);
  const found = useAnswer<JournalPage>("/api/postings/journal", every ? null : { find, before: null });
  const first = every ? journal : found.answer;
  return (
    <section aria-label={WORDS.journal}>
      <h2 className="pt-8 pb-2 font-serif text-[1.125rem] font-semibold">{WORDS.journal}</h2>
      {journal.entries.length === 0 ? (
        <p className="text-soft">{WORDS.nothingPostedYet}</p>
      ) : (
        <>
          <FindEntries find={find} schema={schema} people={people} change={setFind} />
          {!every && found.failure && <p className="text-vermilion">{found.failure.message}</p>}
          {first && <Entries key={JSON.stringify(every ? journal.entries[0]?.number : first.entries)} find={find} first={first} schema={schema} />}
        </>
      )}
    </section>
  );
}

/** What is looked for, and the way to a file of it. */
function FindEntries({ find, schema, people, change }: { find: JournalFind; schema: Schema; people: string[]; change: (next: JournalFind) => void }) {
  const days = [
    ["from", WORDS.journalFrom],
    ["to", WORDS.journalTo],
  ] as const;
  return (
    <div className="flex flex-wrap items-end gap-2 pb-3">
      <input
        type="search"
        className="field w-44"
        aria-label={WORDS.findInJournal}
        placeholder={WORDS.findInJournal}
        value={find.text}
        onChange={(e) => change({ ...find, text: e.target.value })}
      />
      <select className="field w-36" aria-label={COMMON.table} value={find.table ?? ""} onChange={(e) => change({ ...find, table: e.target.value || null })}>
        <option value="">{WORDS.everyTable}</option>
        {schema.tables.filter(mayChange).map((t) => (
          <option key={t.name} value={t.name}>
            {t.label}
          </option>
        ))}
      </select>
      <select className="field w-36" aria-label={COMMON.by} value={find.by ?? ""} onChange={(e) => change({ ...find, by: e.target.value || null })}>
        <option value="">{WORDS.everybody}</option>
        {people.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <span className="flex gap-2">
        {days.map(([side, words]) => (
          <label key={side} className="flex w-40 items-center gap-1.5 text-small text-soft">
            {words}
            <TypedInput type={date} label={words} value={find[side] ?? ""} onChange={(day) => change({ ...find, [side]: day || null })} />
          </label>
        ))}
      </span>
      {!isEveryEntry(find) && (
        <button type="button" className="link text-small" onClick={() => change(EVERY_ENTRY)}>
          {WORDS.clearFind}
        </button>
      )}
      <span className="ml-auto">
        <BriefPopover label={WORDS.exportJournal} className="button">
          {(close) =>
            JOURNAL_EXPORTS.map((what) => (
              <div key={what} className="pb-2">
                <p className="caption pb-1">{WORDS.journalExports[what]}</p>
                <div className="flex flex-wrap gap-1">
                  {ROW_FORMATS.map((format) => (
                    <button
                      key={format}
                      type="button"
                      className="chip"
                      onClick={() => {
                        close();
                        makeFile("/api/postings/journal/export", { find, what, name: WORDS.journalFile[what] }, format);
                      }}
                    >
                      {format.toUpperCase()}
                    </button>
                  ))}
                </div>
              </div>
            ))
          }
        </BriefPopover>
      </span>
    </div>
  );
}

/** Entries, and older ones as they are asked for. */
function Entries({ find, first, schema }: { find: JournalFind; first: JournalPage; schema: Schema }) {
  const locale = useLocale();
  const [pages, setPages] = useState([first]);
  const entries = pages.flatMap((p) => p.entries);
  if (entries.length === 0) return <p className="text-soft">{WORDS.nothingFound}</p>;
  const older = () =>
    ask<JournalPage>("/api/postings/journal", { find, before: entries.at(-1)?.number ?? null }).then(
      (next) => setPages([...pages, next]),
      (error) => void toast.error(sentenceOf(error)),
    );
  const labelOf = (name: string) => findTable(schema, name)?.label ?? name;
  return (
    <>
      <table className="w-full">
        <thead>
          <tr className="border-b border-ink text-left text-small">
            <th className="py-1.5 pr-4 text-right">{WORDS.no}</th>
            <th className="pr-4">{WORDS.postingHeading}</th>
            <th className="pr-4">{COMMON.table}</th>
            <th className="pr-4 text-right">{COMMON.rowsHeading}</th>
            <th className="pr-4">{COMMON.when}</th>
            <th className="pr-4">{COMMON.by}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {entries.map((e) => {
            const sign = entrySign(e, (n) => writeCount(n, locale));
            return (
              <tr key={e.number} className="border-b border-hairline">
                <td className="py-1.5 pr-4 text-right">{e.number}</td>
                <td className="pr-4">
                  <Link href={`/postings/entry/${e.number}`} className={`link ${e.reversedBy === null ? "" : "text-faint line-through"}`}>
                    {e.name}
                  </Link>
                </td>
                <td className="pr-4">{[e.table, ...e.others].map(labelOf).join(", ")}</td>
                <td className={`pr-4 text-right font-semibold whitespace-nowrap ${sign.tone}`}>{sign.text}</td>
                <td className="pr-4">
                  {new Intl.DateTimeFormat(locale.locale, { timeZone: locale.zone, dateStyle: "medium", timeStyle: "short" }).format(new Date(e.at))}
                </td>
                <td className="pr-4 text-soft">{e.by}</td>
                <td className="text-soft">{e.reversedBy === null ? "" : WORDS.reversedBy2(e.reversedBy)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {pages.at(-1)?.more && (
        <button type="button" className="link mt-2" onClick={() => void older()}>
          {WORDS.olderEntries}
        </button>
      )}
    </>
  );
}
