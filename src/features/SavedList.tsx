"use client";

import type { ObjectKind } from "@/server/catalogue/catalogue";
import type { Listed } from "@/server/catalogue/lists";
import { Link } from "./Link";
import { ObjectList } from "./ObjectList";
import { useMakeFrom } from "./useMakeFrom";
import { COMMON } from "./words";
import { PageHeading } from "./workspace/PageHeading";
import { useSignedIn } from "./workspace/person";

type Source = { id: string; name: string; body: object };

type Props = {
  heading: string;
  kind: ObjectKind;
  list: Listed;
  /** Where a new one opens: this, a slash and its id. */
  place: string;
  empty: string;
  /** What new ones are made from: each a name and what the server is asked with. Those who only look make none. */
  make: { heading: string; empty: string; path: string; from: Source[] /** Tables, each read by a query of its own. */; tables?: Source[] };
};

/** The saved objects of a kind, and what a new one can be made from. */
export function SavedList({ heading, kind, list, place, empty, make }: Props) {
  const makeFrom = useMakeFrom();
  const looks = useSignedIn().role === "viewer";
  const begin = (body: object) => makeFrom(make.path, place, body);
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
            {make.from.length === 0 && <p className="text-soft">{make.empty}</p>}
            <Sources sources={make.from} begin={begin} />
            {make.tables && make.tables.length > 0 && (
              <details className="pt-4">
                <summary className="cursor-pointer text-soft">{COMMON.orFromTable}</summary>
                <p className="pt-1 pb-2 text-small text-soft">{COMMON.ownQueryHelp}</p>
                <Sources sources={make.tables} begin={begin} />
              </details>
            )}
          </section>
        )}
      </div>
    </div>
  );
}

function Sources({ sources, begin }: { sources: Source[]; begin: (body: object) => void }) {
  return (
    <ul>
      {sources.map((source) => (
        <li key={source.id} className="border-t border-hairline py-1.5">
          <button type="button" className="link text-left" onClick={() => begin(source.body)}>
            {source.name}
          </button>
        </li>
      ))}
    </ul>
  );
}
