"use client";

import { useState } from "react";
import { OFFERED } from "@/core/desk/listing";
import type { ObjectKind } from "@/server/catalogue/catalogue";
import type { Listed } from "@/server/services/objects/lists";
import { Link } from "./Link";
import { ObjectList } from "./ObjectList";
import { useAnswer } from "./useAnswer";
import { useMakeFrom } from "./useMakeFrom";
import { COMMON } from "./words";
import { PageHeading } from "./workspace/PageHeading";
import { useSignedIn } from "./workspace/person";

type Source = { id: string; name: string; body: object };
/** Saved objects of a kind that a new one can be made from: the first of them; `words` tells kinds apart. */
type Offered = { kind: ObjectKind; first: Listed; words?: string };

type Props = {
  heading: string;
  kind: ObjectKind;
  list: Listed;
  /** Where a new one opens: this, a slash and its id. */
  place: string;
  empty: string;
  /** What new ones are made from. Those who only look make none. */
  make: {
    heading: string;
    empty: string;
    path: string;
    /** Each a name and what the server is asked with. */
    from?: Source[];
    /** Saved objects; `body` is what the server is asked with, the id under the name `key`. */
    offered?: { lists: Offered[]; key: string; body?: object };
    /** Tables, each read by a query of its own. */
    tables?: Source[];
  };
};

/** The saved objects of a kind, and what a new one can be made from. */
export function SavedList({ heading, kind, list, place, empty, make }: Props) {
  const makeFrom = useMakeFrom();
  const looks = useSignedIn().role === "viewer";
  const begin = (body: object) => makeFrom(make.path, place, body);
  const { from = [], offered } = make;
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-6xl gap-10 px-8 py-6 md:grid-cols-[2fr_1fr]">
        <section>
          <PageHeading name={heading} className="pb-4" />
          <ObjectList kind={kind} first={list} empty={empty} />
          {!looks && (
            <Link href="/bin" className="text-small text-soft hover:text-ink">
              {COMMON.deletedItems}
            </Link>
          )}
        </section>
        {!looks && (
          <section>
            <h2 className="pt-2 pb-3 font-serif text-[1.125rem] font-semibold">{make.heading}</h2>
            {from.length === 0 && !offered?.lists.some((l) => l.first.all > 0) && <p className="text-soft">{make.empty}</p>}
            <Sources sources={from} begin={({ body }) => begin(body)} />
            {offered && <SoughtSources lists={offered.lists} begin={(id) => begin({ ...offered.body, [offered.key]: id })} />}
            {make.tables && make.tables.length > 0 && (
              <details className="pt-4">
                <summary className="cursor-pointer text-soft">{COMMON.orFromTable}</summary>
                <p className="pt-1 pb-2 text-small text-soft">{COMMON.ownQueryHelp}</p>
                <Sources sources={make.tables} begin={({ body }) => begin(body)} />
              </details>
            )}
          </section>
        )}
      </div>
    </div>
  );
}

function Sources<S extends { id: string; name: string }>({ sources, begin }: { sources: S[]; begin: (source: S) => void }) {
  return (
    <ul>
      {sources.map((source) => (
        <li key={source.id} className="border-t border-hairline py-1.5">
          <button type="button" className="link text-left" onClick={() => begin(source)}>
            {source.name}
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Saved objects to choose from, found by typing where there are more than are shown. */
function SoughtSources({ lists, begin }: { lists: Offered[]; begin: (id: string) => void }) {
  const [sought, setSought] = useState("");
  const many = lists.some((l) => l.first.all > l.first.items.length);
  return (
    <>
      {many && (
        <input
          type="search"
          className="field mb-2"
          aria-label={COMMON.findSource}
          placeholder={COMMON.findSource}
          value={sought}
          onChange={(e) => setSought(e.target.value)}
        />
      )}
      {lists.map((list) => (
        <FoundSources key={list.kind} {...list} sought={sought.trim()} begin={begin} />
      ))}
    </>
  );
}

function FoundSources({ kind, first, words, sought, begin }: Offered & { sought: string; begin: (id: string) => void }) {
  const { answer } = useAnswer<Listed>("/api/objects/list", sought === "" ? null : { kind, ...OFFERED, sought }, { settleMs: 150 });
  const { items, found } = (sought === "" ? null : answer) ?? first;
  return (
    <>
      <Sources sources={items.map(({ id, name }) => ({ id, name: words ? `${name} (${words})` : name }))} begin={({ id }) => begin(id)} />
      {found > items.length && <p className="border-t border-hairline pt-2 text-small text-soft">{COMMON.moreInList(found - items.length)}</p>}
    </>
  );
}
