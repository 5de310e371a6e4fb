"use client";

import { changesIn, changesText } from "@/core/posting/changes";
import { writeCount } from "@/core/types/format";
import type { Entry } from "@/server/jobs/posting/journal";
import { Link } from "../Link";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Props = { journal: Entry[]; drafts: { id: string; name: string }[]; here?: string };

/** How an entry changed the number of rows, or how many it altered. */
export function entrySign({ counts }: Entry, write: (n: number) => string): { text: string; tone: string } {
  const only = changesIn(counts);
  return { text: changesText(counts, write), tone: only === "add" ? "text-bottle" : only === "remove" ? "text-vermilion" : "text-ochre" };
}

/** The drafts and the journal, the latest entry first; what was taken back is struck through. */
export function JournalList({ journal, drafts, here }: Props) {
  const locale = useLocale();
  const item = (href: string, words: React.ReactNode, sign?: { text: string; tone: string }, struck = false) => (
    <li key={href}>
      <Link
        href={href}
        aria-current={here === href ? "page" : undefined}
        className="flex justify-between gap-2 rounded px-1 py-1 hover:bg-bottle-tint aria-[current]:font-semibold"
      >
        <span className={`truncate ${struck ? "text-faint line-through" : ""}`}>{words}</span>
        {sign && !struck && <span className={`shrink-0 font-semibold ${sign.tone}`}>{sign.text}</span>}
      </Link>
    </li>
  );
  return (
    <div className="px-4 py-3">
      {drafts.length > 0 && (
        <>
          <h2 className="caption pb-2">{WORDS.savedPostings}</h2>
          <ul className="pb-4">{drafts.map((d) => item(`/postings/${d.id}`, d.name))}</ul>
        </>
      )}
      <h2 className="caption pb-2">{WORDS.journal}</h2>
      <ul>
        {journal.map((e) =>
          item(
            `/postings/entry/${e.number}`,
            `#${e.number} · ${e.name}`,
            entrySign(e, (n) => writeCount(n, locale)),
            e.reversedBy !== null,
          ),
        )}
      </ul>
      {journal.length === 0 && <p className="pt-2 text-small text-soft">{WORDS.journalEmpty}</p>}
    </div>
  );
}
