"use client";

import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { FIRST_ASKED, LIST_ORDERS, type ListAsked, type ListOrder, MOST_LISTED } from "@/core/desk/listing";
import type { ObjectKind } from "@/server/catalogue/catalogue";
import type { Listed, ListedItem, Mark } from "@/server/services/objects/lists";
import { Link } from "./Link";
import { placeOf } from "./places";
import { SelectionBar } from "./SelectionBar";
import { useAnswer } from "./useAnswer";
import { COMMON } from "./words";
import { useLocale } from "./workspace/locale";
import { useSignedIn } from "./workspace/person";

type Props = { kind: ObjectKind /** As it is at first: the page has it. */; first: Listed; empty: string };

/** From how many items on they are searched. */
const MANY = 6;
/** How many more are shown when more are asked for. */
const MORE = 200;

/** The saved objects of a section: searched, ordered, parted into folders; several at once moved, shared, exported, deleted. */
export function ObjectList({ kind, first, empty }: Props) {
  const looks = useSignedIn().role === "viewer";
  const router = useRouter();
  const [asked, setAsked] = useState<ListAsked>(FIRST_ASKED);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const change = (next: Partial<ListAsked>) => setAsked({ ...asked, ...next });
  const isFirst = JSON.stringify(asked) === JSON.stringify(FIRST_ASKED);
  // What is done with an object comes to the page anew, and is asked for again where the list is another.
  const { answer } = useAnswer<Listed>("/api/objects/list", isFirst ? null : { kind, ...asked }, { settleMs: 150, turn: first });
  const { items, found, folders } = (isFirst ? null : answer) ?? first;
  const marks =
    useAnswer<Record<string, Mark>>("/api/objects/marks", looks || items.length === 0 ? null : { ids: items.map((i) => i.id) }, { turn: first }).answer ?? {};
  const done = () => {
    setChosen(new Set());
    router.refresh();
  };
  const pick = usePicking(items, chosen, setChosen);
  if (first.all === 0) return <p className="text-soft">{looks ? COMMON.nothingShared : empty}</p>;
  const selected = items.filter((i) => chosen.has(i.id));
  return (
    <>
      {first.all >= MANY && <ListHead {...{ asked, change, first, folders }} />}
      {selected.length > 0 && <SelectionBar {...{ items: selected, folders, done }} clear={() => setChosen(new Set())} />}
      {found === 0 && <p className="text-soft">{COMMON.noneFound}</p>}
      <ul data-testid="objects">
        {items.map((item) => (
          <ListLine
            key={item.id}
            {...{ item, kind, order: asked.order, mark: marks[item.id] }}
            chosen={chosen.has(item.id)}
            pick={looks ? null : (several) => pick(item.id, several)}
            openFolder={(folder) => change({ folder })}
          />
        ))}
      </ul>
      {found > items.length && (
        <p className="border-t border-rule pt-3 text-soft">
          {COMMON.moreInList(found - items.length)}{" "}
          {asked.most < MOST_LISTED && (
            <button type="button" className="link" onClick={() => change({ most: Math.min(asked.most + MORE, MOST_LISTED) })}>
              {COMMON.showMore}
            </button>
          )}
        </p>
      )}
    </>
  );
}

/** Chooses an item or no longer; with `several` all from the one chosen before. */
function usePicking(items: ListedItem[], chosen: ReadonlySet<string>, set: (chosen: ReadonlySet<string>) => void) {
  const last = useRef<string | null>(null);
  return (id: string, several: boolean): void => {
    const ids = items.map((i) => i.id);
    const [from, to] = [ids.indexOf(last.current ?? id), ids.indexOf(id)].sort((a, b) => a - b) as [number, number];
    const among = several && from >= 0 ? ids.slice(from, to + 1) : [id];
    const next = new Set(chosen);
    const on = !chosen.has(id);
    for (const one of among) on ? next.add(one) : next.delete(one);
    last.current = id;
    set(next);
  };
}

type HeadProps = { asked: ListAsked; change: (next: Partial<ListAsked>) => void; first: Listed; folders: Listed["folders"] };

/** What the list is searched for, how it is ordered, and which folder of it is shown. */
function ListHead({ asked, change, first, folders }: HeadProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 pb-3">
      <input
        type="search"
        className="field max-w-60"
        aria-label={COMMON.findInList}
        placeholder={COMMON.findInList}
        value={asked.sought}
        onChange={(e) => change({ sought: e.target.value })}
      />
      <label className="flex items-center gap-2 text-small text-soft">
        {COMMON.sortBy}
        <select className="field w-32" value={asked.order} onChange={(e) => change({ order: e.target.value as ListOrder })}>
          {LIST_ORDERS.map((name) => (
            <option key={name} value={name}>
              {COMMON.listOrders[name]}
            </option>
          ))}
        </select>
      </label>
      {folders.some((f) => f.folder !== "") && (
        <label className="flex items-center gap-2 text-small text-soft">
          {COMMON.folder}
          <select
            className="field w-40"
            value={asked.folder === null ? "all" : `in ${asked.folder}`}
            onChange={(e) => change({ folder: e.target.value === "all" ? null : e.target.value.slice("in ".length) })}
          >
            <option value="all">{COMMON.allFolders(first.all)}</option>
            {folders.map(({ folder, count }) => (
              <option key={folder} value={`in ${folder}`}>
                {COMMON.folderCount(folder || COMMON.noFolder, count)}
              </option>
            ))}
          </select>
        </label>
      )}
    </div>
  );
}

type LineProps = {
  item: ListedItem;
  kind: ObjectKind;
  order: ListOrder;
  mark: Mark | undefined;
  chosen: boolean;
  pick: ((several: boolean) => void) | null;
  openFolder: (folder: string) => void;
};

function ListLine({ item, kind, order, mark, chosen, pick, openFolder }: LineProps) {
  const { locale, zone } = useLocale();
  const day = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeZone: zone });
  const when = order === "opened" && item.opened ? COMMON.openedOn(day.format(new Date(item.opened))) : COMMON.savedOn(day.format(new Date(item.changed)));
  return (
    <li className={`flex gap-3 border-t border-rule py-3 ${chosen ? "bg-bottle-tint" : ""}`}>
      {pick && (
        <input
          type="checkbox"
          className="mt-1.5 size-4 shrink-0 accent-bottle"
          aria-label={COMMON.select(item.name)}
          checked={chosen}
          onChange={(e) => pick((e.nativeEvent as MouseEvent).shiftKey === true)}
        />
      )}
      <div className="min-w-0 flex-1">
        <span className="flex flex-wrap items-baseline justify-between gap-x-4">
          <span>
            <Link href={placeOf(kind, item.id)} className="link text-brief">
              {item.name}
            </Link>
            {mark && (
              <span
                className={`ml-2 rounded-sm px-1.5 text-small ${mark.mark === "broken" ? "bg-ochre-tint text-ochre" : "bg-vermilion-tint text-vermilion"}`}
                title={mark.words}
              >
                {COMMON.marks[mark.mark]}
              </span>
            )}
          </span>
          <span className="shrink-0 text-small text-soft">
            {[...(item.pinned ? [COMMON.pinned] : []), ...(item.owner ? [item.owner] : []), when].join(" · ")}
          </span>
        </span>
        {item.about !== "" && <p className={item.wrong ? "text-vermilion" : "text-soft"}>{item.about}</p>}
        {mark && (
          <p className="text-small text-ochre">
            {mark.words}{" "}
            {mark.mark === "broken" && (
              <Link href="/broken" className="link">
                {COMMON.pointElsewhere}
              </Link>
            )}
          </p>
        )}
        <span className="flex flex-wrap items-baseline gap-x-3 text-small">
          {item.folder !== "" && (
            <button
              type="button"
              className="text-soft hover:text-bottle hover:underline"
              title={COMMON.inFolder(item.folder)}
              onClick={() => openFolder(item.folder)}
            >
              {item.folder}
            </button>
          )}
          {item.note !== "" && <span className="italic">{item.note}</span>}
        </span>
      </div>
    </li>
  );
}
