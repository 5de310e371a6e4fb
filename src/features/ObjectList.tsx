"use client";

import { useMemo, useState } from "react";
import { LIST_ORDERS, type ListDates, type ListItem, type ListOrder, listItems } from "@/core/desk/listing";
import { Link } from "./Link";
import { COMMON } from "./words";
import { useLocale } from "./workspace/locale";
import { useSignedIn } from "./workspace/person";

export type ObjectItem = ListItem & { wrong?: boolean };

type Props = { items: ObjectItem[]; dates: Record<string, ListDates> /** Where an item opens: this, a slash and its id. */; place: string; empty: string };

/** From how many items on they are searched, and how many are shown at once. */
const MANY = 6;
const MOST_SHOWN = 200;

/** The saved objects of a section: searched by name, description and owner, ordered by name or date. */
export function ObjectList({ items, dates, place, empty }: Props) {
  const { locale, zone } = useLocale();
  const looks = useSignedIn().role === "viewer";
  const [sought, setSought] = useState("");
  const [order, setOrder] = useState<ListOrder>("name");
  const found = useMemo(() => listItems(items, dates, sought, order, locale), [items, dates, sought, order, locale]);
  const day = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeZone: zone });
  const meta = ({ id }: ObjectItem): string => {
    const known = dates[id];
    if (!known) return "";
    const when = order === "opened" && known.opened ? COMMON.openedOn(day.format(new Date(known.opened))) : COMMON.savedOn(day.format(new Date(known.changed)));
    return [...(known.pinned ? [COMMON.pinned] : []), ...(known.owner ? [known.owner] : []), when].join(" · ");
  };
  if (items.length === 0) return <p className="text-soft">{looks ? COMMON.nothingShared : empty}</p>;
  return (
    <>
      {items.length >= MANY && (
        <div className="flex flex-wrap items-center gap-3 pb-3">
          <input
            type="search"
            className="field max-w-72"
            aria-label={COMMON.findInList}
            placeholder={COMMON.findInList}
            value={sought}
            onChange={(e) => setSought(e.target.value)}
          />
          <label className="flex items-center gap-2 text-small text-soft">
            {COMMON.sortBy}
            <select className="field w-36" value={order} onChange={(e) => setOrder(e.target.value as ListOrder)}>
              {LIST_ORDERS.map((name) => (
                <option key={name} value={name}>
                  {COMMON.listOrders[name]}
                </option>
              ))}
            </select>
          </label>
        </div>
      )}
      {found.length === 0 && <p className="text-soft">{COMMON.noneFound}</p>}
      <ul data-testid="objects">
        {found.slice(0, MOST_SHOWN).map((item) => (
          <li key={item.id} className="border-t border-rule py-3">
            <span className="flex items-baseline justify-between gap-4">
              <Link href={`${place}/${item.id}`} className="link text-brief">
                {item.name}
              </Link>
              <span className="shrink-0 text-small text-soft">{meta(item)}</span>
            </span>
            {!looks && <p className={item.wrong ? "text-vermilion" : "text-soft"}>{item.about}</p>}
          </li>
        ))}
      </ul>
      {found.length > MOST_SHOWN && <p className="border-t border-rule pt-3 text-soft">{COMMON.moreInList(found.length - MOST_SHOWN)}</p>}
    </>
  );
}
