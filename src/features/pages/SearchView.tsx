"use client";

import { type FormEvent, useState } from "react";
import type { Asked } from "@/core/page/asked";
import type { SearchSpec } from "@/core/page/spec";
import { onTheRight } from "@/core/query/shownColumn";
import { counted, writeCount } from "@/core/types/format";
import { withUnit } from "@/core/types/unit";
import type { About, Found } from "@/server/services/pages/answer";
import { Notice } from "@/ui/Notice";
import { tdsWriter } from "../CellTds";
import { useAnswer } from "../useAnswer";
import { useLocale } from "../workspace/locale";
import { type Asking, firstSearch, searchAsked } from "./asking";
import { DetailsView } from "./DetailsView";
import { SearchForm } from "./SearchForm";
import { WORDS } from "./words";

type Props = {
  asking: Asking;
  about: Extract<About, { kind: "search" }>;
  /** What the one who looks may change, and where that is asked; null outside. */
  changes: { may: NonNullable<SearchSpec["changes"]>; path: string } | null;
};

/** A page that is searched: a form, what it finds a page at a time, and the details of a row. */
export function SearchView({ asking, about, changes }: Props) {
  const locale = useLocale();
  const first = firstSearch(about);
  const [form, setForm] = useState(first);
  const [asked, setAsked] = useState(first);
  const [page, setPage] = useState(0);
  const [opened, setOpened] = useState<{ at: number; mark?: string | undefined } | null>(null);
  const { answer: found, failure, again } = useAnswer<Found>(asking.path, { ...asking.with, question: searchAsked(asked, page) }, { settleMs: 0 });

  function search(event: FormEvent): void {
    event.preventDefault();
    setOpened(null);
    setPage(0);
    setAsked({ ...form, sort: asked.sort });
  }
  const sort = (column: string) => {
    const up = asked.sort?.column === column && asked.sort.direction === "up";
    setPage(0);
    setAsked({ ...asked, sort: { column, direction: up ? "down" : "up" } });
  };
  if (opened)
    return (
      <DetailsView
        asking={asking}
        asked={asked}
        at={opened.at}
        mark={opened.mark}
        count={found?.count ?? 0}
        go={(at) => setOpened({ at })}
        changes={changes}
        back={() => {
          setOpened(null);
          again();
        }}
      />
    );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      {about.form.length > 0 && <SearchForm asking={asking} fields={about.form} form={form} change={setForm} search={search} />}
      {failure && <Notice tone="wrong">{failure.message}</Notice>}
      {found && (
        <Results
          about={about}
          found={found}
          asked={asked}
          sort={sort}
          open={about.details || changes ? (row) => setOpened({ at: found.page * about.perPage + row, mark: found.marks[row] }) : null}
        />
      )}
      {found && found.count > about.perPage && (
        <nav aria-label={WORDS.resultPages} className="flex items-center gap-3">
          <button type="button" className="button" disabled={page === 0} onClick={() => setPage(page - 1)}>
            {WORDS.previous}
          </button>
          <span className="text-soft">
            {WORDS.rowsOf(
              writeCount(page * about.perPage + 1, locale),
              writeCount(Math.min(found.count, (page + 1) * about.perPage), locale),
              writeCount(found.count, locale),
            )}
          </span>
          <button type="button" className="button" disabled={(page + 1) * about.perPage >= found.count} onClick={() => setPage(page + 1)}>
            {WORDS.nextPage}
          </button>
        </nav>
      )}
      {found && found.count > 0 && found.count <= about.perPage && <p className="text-soft">{WORDS.found(counted(found.count, "row", locale))}</p>}
    </div>
  );
}

type Results = { about: Props["about"]; found: Found; asked: Asked; sort: (column: string) => void; open: ((row: number) => void) | null };

function Results({ about, found, asked, sort, open }: Results) {
  const locale = useLocale();
  const { columns } = found;
  if (found.count === 0)
    return (
      <p className="text-soft">
        {about.atOnce || asked.fields.some((f) => f.values.some((v) => v.trim() !== "")) ? WORDS.nothingFound : WORDS.enterWhatToSearchFor}
      </p>
    );
  const tds = tdsWriter(columns, locale, "border-r border-column px-2.5 py-1");
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard (WCAG 2.1.1)
    <section className="relative overflow-x-auto border border-rule bg-sheet" aria-label={WORDS.results} tabIndex={0}>
      <table className="w-full" data-testid="found">
        <thead>
          <tr className="border-b border-ink">
            {columns.map((c) => {
              const sorted = asked.sort?.column === c.id ? asked.sort.direction : null;
              const heading = withUnit(c.heading, c.unit);
              return (
                <th
                  key={c.id}
                  scope="col"
                  aria-sort={sorted ? (sorted === "up" ? "ascending" : "descending") : undefined}
                  className={`border-r border-column px-2.5 py-1.5 text-small ${onTheRight(c) ? "text-right" : "text-left"}`}
                >
                  {about.sortable ? (
                    <button type="button" className="min-h-6 font-semibold hover:underline" onClick={() => sort(c.id)}>
                      {heading} {sorted === "up" ? "▲" : sorted === "down" ? "▼" : ""}
                    </button>
                  ) : (
                    heading
                  )}
                </th>
              );
            })}
            {open && (
              <th scope="col" className="px-2.5 py-1.5">
                <span className="sr-only">{WORDS.folio}</span>
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {found.rows.map((row, i) => (
            <tr key={`row ${found.page} ${i}`} className="border-b border-hairline">
              {tds(row)}
              {open && (
                <td className="px-2.5 py-1 text-right">
                  <button type="button" className="link min-h-6" onClick={() => open(i)}>
                    {WORDS.open}
                  </button>
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
