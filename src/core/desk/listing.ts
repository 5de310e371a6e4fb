/*
 * How a list of saved objects is searched, ordered and parted into folders.
 */

/** What a list goes by of an object. Instants in ISO 8601; `words` is what it names, as `namesIn` finds it. */
export type Entry = {
  id: string;
  name: string;
  words: string;
  note: string;
  /** "" where it lies in none. */
  folder: string;
  /** Whose it is, where it is another's. */
  owner?: string | undefined;
  changed: string;
  /** When the person opened it last. */
  opened?: string | undefined;
  pinned: boolean;
};

export const LIST_ORDERS = ["name", "changed", "opened"] as const;
export type ListOrder = (typeof LIST_ORDERS)[number];

/** How a list is asked for; `folder` null: whatever folder it lies in, "": in none; `most`: how many of those found are shown. */
export type ListAsked = { sought: string; order: ListOrder; folder: string | null; most: number };
/** As a list is at first. */
export const FIRST_ASKED: ListAsked = { sought: "", order: "name", folder: null, most: 60 };
/** As a list is asked for where one of its items is to be chosen. */
export const OFFERED: ListAsked = { ...FIRST_ASKED, most: 30 };
/** How many are shown at the most. */
export const MOST_LISTED = 1000;

const plain = (text: string): string => text.normalize("NFD").replace(/\p{M}/gu, "").replaceAll("_", " ").toLowerCase();

/**
 * The items of a list that hold every word sought, in their name, note, owner, folder or what they name, whatever their accents
 * and case; pinned ones first.
 * @param asked ordered by name, or by when they were saved or opened, the latest first; never opened last
 */
export function listItems<E extends Entry>(items: E[], { sought, order, folder }: Omit<ListAsked, "most">, locale: string): E[] {
  const words = plain(sought).split(/\s+/).filter(Boolean);
  const within = folder === null ? items : items.filter((i) => i.folder === folder);
  const found = words.length === 0 ? within : within.filter((i) => holdsAll(plain([i.name, i.note, i.folder, i.owner ?? "", i.words].join(" ")), words));
  const { compare } = new Intl.Collator(locale, { numeric: true });
  const latest = (a: string | undefined, b: string | undefined) => (a === b ? 0 : (a ?? "") > (b ?? "") ? -1 : 1);
  const byDate = (a: E, b: E) => (order === "name" ? 0 : latest(a[order], b[order]));
  return [...found].sort((a, b) => Number(b.pinned) - Number(a.pinned) || byDate(a, b) || compare(a.name, b.name));
}

const holdsAll = (text: string, words: string[]): boolean => words.every((word) => text.includes(word));

/** A folder, and how many items lie in it. */
export type Folder = { folder: string; count: number };

/** The folders that items lie in, by name; those in none come last, as "". */
export function foldersOf(items: Pick<Entry, "folder">[], locale: string): Folder[] {
  const counts = new Map<string, number>();
  for (const { folder } of items) counts.set(folder, (counts.get(folder) ?? 0) + 1);
  const { compare } = new Intl.Collator(locale, { numeric: true });
  return [...counts]
    .map(([folder, count]) => ({ folder, count }))
    .sort((a, b) => Number(a.folder === "") - Number(b.folder === "") || compare(a.folder, b.folder));
}

/** The parts of a description that name something a person would look for: fields, tables, headings, words on paper, formulas. */
const NAMING: ReadonlySet<string> = new Set(["column", "label", "heading", "title", "text", "table", "source", "name", "unit", "here", "there"]);

/** What a description names, whatever it is of: words to look for it by. */
export function namesIn(spec: unknown): string {
  const found = new Set<string>();
  const walk = (part: unknown): void => {
    if (Array.isArray(part)) part.forEach(walk);
    else if (typeof part === "object" && part !== null)
      for (const [key, value] of Object.entries(part)) {
        if (typeof value === "string") NAMING.has(key) && value !== "" && found.add(value);
        else walk(value);
      }
  };
  walk(spec);
  return [...found].join(" ");
}
