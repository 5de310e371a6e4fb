/*
 * How a list of saved objects is searched and ordered.
 */

/** What is known of an object beside its name: when it was saved, when the person opened it last, whose it is, whether it is pinned. Instants in ISO 8601. */
export type ListDates = { changed: string; opened?: string | undefined; owner?: string | undefined; pinned?: boolean | undefined };
export type ListItem = { id: string; name: string; about: string };

export const LIST_ORDERS = ["name", "changed", "opened"] as const;
export type ListOrder = (typeof LIST_ORDERS)[number];

const plain = (text: string): string => text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/**
 * The items of a list that hold every word sought, in their name, description or owner, whatever their accents and case; pinned ones first.
 * @param order by name, or by when they were saved or opened, the latest first; never opened last
 */
export function listItems<I extends ListItem>(items: I[], dates: Record<string, ListDates>, sought: string, order: ListOrder, locale: string): I[] {
  const words = plain(sought).split(/\s+/).filter(Boolean);
  const found = words.length === 0 ? items : items.filter((i) => holdsAll(plain([i.name, i.about, dates[i.id]?.owner ?? ""].join(" ")), words));
  const { compare } = new Intl.Collator(locale, { numeric: true });
  const latest = (a: string | undefined, b: string | undefined) => (a === b ? 0 : (a ?? "") > (b ?? "") ? -1 : 1);
  const byDate = (a: I, b: I) => (order === "name" ? 0 : latest(dates[a.id]?.[order], dates[b.id]?.[order]));
  const pinned = (i: I) => Number(dates[i.id]?.pinned ?? false);
  return [...found].sort((a, b) => pinned(b) - pinned(a) || byDate(a, b) || compare(a.name, b.name));
}

const holdsAll = (text: string, words: string[]): boolean => words.every((word) => text.includes(word));
