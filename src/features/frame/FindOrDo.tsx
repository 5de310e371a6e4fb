"use client";

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from "@headlessui/react";
import { useRouter } from "next/navigation";
import { type RefObject, useCallback, useContext, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { FindItem } from "@/server/services/find/items";
import type { FoundRow } from "@/server/services/find/rows";
import { ask } from "../ask";
import { hasPlace, placeOf } from "../places";
import { COMMON } from "../words";
import { useSignedIn } from "../workspace/person";
import { findOffers, type Offer } from "./find";
import { PageDeedsContext } from "./pageDeeds";
import { WORDS } from "./words";

/** What can be done from anywhere. */
const DOING: [string, string][] = [
  [COMMON.newQuery, "/queries"],
  [COMMON.newPivot, "/pivots"],
  [COMMON.newChart, "/charts"],
  [COMMON.newDashboard, "/dashboards"],
  [COMMON.newReport, "/reports"],
  [COMMON.newLetter, "/letters"],
  [WORDS.newPage, "/pages"],
  [COMMON.newSchedule, "/schedules?new=1"],
  [COMMON.newPosting, "/postings"],
  [COMMON.importFile, "/tables"],
  [COMMON.outbox, "/outbox"],
];

type Props = {
  close: () => void;
  help: () => void;
  /** What was typed before this was there to be typed into; null from then on. */
  ahead: RefObject<string | null>;
};

/** Finds an object, a table, a column or a row by its name, or something to do. */
export default function FindOrDo({ close, help, ahead }: Props) {
  const router = useRouter();
  const [words, setWords] = useState("");
  const items = useItems();
  const rows = useRows(words);
  const { person, role } = useSignedIn();
  const page = useContext(PageDeedsContext);
  const go = (href: string) => () => router.push(href);
  const offerOf = ({ kind, id, name, of }: FindItem): Offer[] => {
    if (kind === "column") return [{ key: `column ${id} ${name}`, name, kind: WORDS.column, of: of ?? "", act: go(placeOf("table", id)) }];
    return hasPlace(kind) ? [{ key: `${kind} ${id}`, name, kind, act: go(placeOf(kind, id)) }] : [];
  };
  const doing = [
    ...(role === "viewer" ? [] : DOING),
    ...(role === "owner" ? [[COMMON.peopleRowRulesLog, "/people"]] : []),
    ...(person ? [[COMMON.myAccount, "/me"]] : []),
    [COMMON.settings, "/settings"],
  ] as [string, string][];
  const found = items.flatMap(offerOf);
  const offers: Offer[] = [
    ...found.filter((o) => o.kind !== WORDS.column),
    ...page.current.filter((d) => !d.disabled).map((d) => ({ key: `page ${d.words}`, name: d.words, kind: WORDS.thisPage, act: d.act })),
    { key: "help", name: WORDS.help, kind: WORDS.do, act: help },
    ...doing.map(([name, href]) => ({ key: `do ${name}`, name, kind: WORDS.do, act: go(href) })),
    ...found.filter((o) => o.kind === WORDS.column),
  ];
  const rowOffers = rows.map(
    ({ table, label, key, name }): Offer => ({
      key: `row ${table} ${key.join(" ")}`,
      name,
      kind: label,
      act: go(`${placeOf("table", table)}/folio?${key.map((k) => `k=${encodeURIComponent(k)}`).join("&")}`),
    }),
  );
  const shown = [...findOffers(offers, words), ...rowOffers];
  const choose = (offer: Offer | null) => {
    if (!offer) return;
    close();
    offer.act();
  };
  return (
    <Dialog open onClose={close} className="relative z-50">
      <div className="fixed inset-0 bg-ink/20" aria-hidden="true" />
      <DialogPanel className="fixed inset-x-4 top-20 mx-auto max-w-lg rounded-lg border border-rule bg-sheet p-2 shadow-xl">
        <Combobox<Offer | null> value={null} onChange={choose} immediate>
          <WordsField setWords={setWords} ahead={ahead} />
          <ComboboxOptions static modal={false} className="max-h-96 overflow-auto border-t border-hairline pt-1">
            {shown.map((offer) => (
              <ComboboxOption key={offer.key} value={offer} className="menu-item flex justify-between gap-3">
                <span className="truncate">{offer.name}</span>
                <span className="shrink-0 text-soft">{offer.of ? WORDS.kindOf(offer.kind, offer.of) : offer.kind}</span>
              </ComboboxOption>
            ))}
            {shown.length === 0 && <p className="px-3 py-2 text-soft">{COMMON.noMatches}</p>}
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </Dialog>
  );
}

/** The field for the words. What was typed before is taken over when it has the focus: not before, or what comes between is lost. */
function WordsField({ setWords, ahead }: { setWords: (words: string) => void; ahead: Props["ahead"] }) {
  const field = useRef<HTMLInputElement>(null);
  const take = useCallback(() => {
    if (!field.current || ahead.current === null || document.activeElement !== field.current) return;
    field.current.value = ahead.current;
    setWords(ahead.current);
    ahead.current = null;
  }, [ahead, setWords]);
  // A field that has the focus as soon as it is drawn tells nobody of it.
  useLayoutEffect(take, [take]);
  return (
    <ComboboxInput
      ref={field}
      autoFocus
      aria-label={COMMON.findOrDo}
      placeholder={COMMON.findOrDoHint}
      displayValue={() => ""}
      className="w-full bg-sheet px-3 py-2 text-brief"
      onFocus={take}
      onChange={(e) => setWords(e.target.value)}
    />
  );
}

/** Everything that can be found by its name, what was opened last first. */
function useItems(): FindItem[] {
  const [items, setItems] = useState<FindItem[]>([]);
  useEffect(() => {
    ask<FindItem[]>("/api/find").then(setItems, () => undefined);
  }, []);
  return items;
}

const LEAST_LETTERS = 3;
const PAUSE_MS = 200;

/** Rows by their names, once a few letters are typed and the typing pauses. */
function useRows(words: string): FoundRow[] {
  const builds = useSignedIn().role !== "viewer";
  const [rows, setRows] = useState<FoundRow[]>([]);
  useEffect(() => {
    setRows([]);
    if (!builds || words.trim().length < LEAST_LETTERS) return;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      ask<FoundRow[]>(`/api/find/rows?words=${encodeURIComponent(words.trim())}`, undefined, { signal: stop.signal }).then(setRows, () => undefined);
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [words, builds]);
  return rows;
}
