import { humanise } from "../schema/schema";

/*
 * What differs between two versions of any description, in words: each value that is another, each item of a list that
 * came or went. Items are the same where they have one id; where they have none, where they are alike in all.
 */

/** How an id that a description names is called: a saved item, a column of the query it is made from; undefined where it is none. */
export type NameOf = (id: string) => string | undefined;

type Plain = Record<string, unknown>;
const isPlain = (value: unknown): value is Plain => typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Keys that only hold what is within: they say nothing to a person. */
const SILENT = new Set(["attrs", "content", "of"]);
/** What a change of says nothing to a person. */
const UNTOLD = new Set(["version", "since"]);
/** The keys by which an item of a list is called, the first that it has. */
const CALLED = ["title", "label", "heading", "words", "name", "column", "text", "formula", "kind", "id"];
/** Letters of a text that are shown at most. */
const MOST_LETTERS = 60;

const shortened = (text: string): string => (text.length > MOST_LETTERS ? `${text.slice(0, MOST_LETTERS - 1)}…` : text);

/** The text in a part of a letter. */
const textIn = (value: unknown): string => {
  if (Array.isArray(value)) return value.map(textIn).join("");
  if (!isPlain(value)) return "";
  return typeof value.text === "string" ? value.text : textIn(value.content);
};

/** What an item is called; undefined where nothing of it is a name. */
function calledBy(item: unknown, nameOf: NameOf): string | undefined {
  if (typeof item === "string") return nameOf(item) ?? item;
  if (typeof item === "number") return String(item);
  if (!isPlain(item)) return undefined;
  const known = typeof item.id === "string" ? nameOf(item.id) : undefined;
  const given = CALLED.map((key) => item[key]).find((value): value is string => typeof value === "string" && value !== "");
  if (known !== undefined || given !== undefined) return shortened(known ?? nameOf(given as string) ?? (given as string));
  return shortened(textIn(item)) || undefined;
}

function valueWords(value: unknown, nameOf: NameOf): string {
  if (value === null || value === undefined || value === "") return "none";
  if (typeof value === "boolean") return value ? "yes" : "no";
  return calledBy(value, nameOf) ?? (Array.isArray(value) ? value.map((v) => valueWords(v, nameOf)).join(", ") : "changed");
}

const pathWords = (path: string[]): string => {
  const words = path.filter((key) => !SILENT.has(key)).join(" › ");
  return words.charAt(0).toUpperCase() + words.slice(1);
};

const idOf = (item: unknown): string | undefined => {
  const key = isPlain(item) ? (item.id ?? item.column ?? item.name) : undefined;
  return typeof key === "string" ? key : undefined;
};

/** The differences of two values in words: "Page › paper: A4 → A5", "Added to tiles: Freight". */
export function differences(was: unknown, is: unknown, nameOf: NameOf, path: string[] = []): string[] {
  if (same(was, is)) return [];
  if (Array.isArray(was) && Array.isArray(is)) return listDifferences(was, is, nameOf, path);
  if (isPlain(was) && isPlain(is)) {
    const keys = [...new Set([...Object.keys(was), ...Object.keys(is)])].filter((key) => !UNTOLD.has(key));
    return keys.flatMap((key) => differences(was[key], is[key], nameOf, [...path, humanise(key)]));
  }
  // A list or a part that was not there begins empty.
  if (Array.isArray(was ?? is) && (was ?? null) === null) return listDifferences([], is as unknown[], nameOf, path);
  if (Array.isArray(was ?? is) && (is ?? null) === null) return listDifferences(was as unknown[], [], nameOf, path);
  return [`${pathWords(path)}: ${valueWords(was, nameOf)} → ${valueWords(is, nameOf)}`];
}

function listDifferences(was: unknown[], is: unknown[], nameOf: NameOf, path: string[]): string[] {
  const keyed = [...was, ...is].every((item) => idOf(item) !== undefined);
  const keyOf = (item: unknown): string => (keyed ? (idOf(item) as string) : JSON.stringify(item));
  const [old, now] = [new Map(was.map((item) => [keyOf(item), item])), new Map(is.map((item) => [keyOf(item), item]))];
  const say = (item: unknown) => calledBy(item, nameOf) ?? "…";
  const gone = [...old].filter(([key]) => !now.has(key)).map(([, item]) => `Removed from ${pathWords(path).toLowerCase()}: ${say(item)}`);
  const come = [...now].filter(([key]) => !old.has(key)).map(([, item]) => `Added to ${pathWords(path).toLowerCase()}: ${say(item)}`);
  const stay = [...now].filter(([key]) => old.has(key));
  const changed = stay.flatMap(([key, item]) => differences(old.get(key), item, nameOf, [...path, say(item)]));
  const order = (list: unknown[]) => list.map(keyOf).filter((key) => old.has(key) && now.has(key));
  const moved = same(order(was), order(is)) ? [] : [`${pathWords(path)}: in another order`];
  return [...gone, ...come, ...changed, ...moved];
}
