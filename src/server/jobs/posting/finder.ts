import { similarKey } from "@/core/duplicates/similar";
import { cellOfStored, type Stored } from "@/core/posting/coerce";
import type { PostingPlan } from "@/core/posting/plan";
import type { Column } from "@/core/schema/schema";
import type { Storage } from "@/core/types/storage";
import { encodeImage, type Image, type RowName, type Target } from "./target";

export type Found = { row: RowName; image?: Image };

/** Finds the rows of a target that are the same as those that come. */
export type Finder = {
  /** Whether no row that is added is found by what comes after it, but by the very same values: then many can be looked up before any is added. */
  steady: boolean;
  /** Looks many up at once, where that is faster: `find` then tells of them what was found. Those looked up before are forgotten. */
  ahead(many: Stored[][]): void;
  find(values: Stored[]): Found[];
};

const NOTHING: Finder = { steady: true, ahead: () => {}, find: () => [] };

/** By what makes rows the same: by an index where there is one, else in a list of all of them. */
export function finderOf(target: Target, { same, alike }: Pick<PostingPlan, "same" | "alike">): Finder {
  if (same.length === 0) return NOTHING;
  const index = alike ? null : target.indexOf(same);
  if (index === null) return finderInList(target, same, alike);
  if (index === "plain") return { steady: false, ahead: () => {}, find: (values) => target.findBy(same, values) };
  let looked = new Map<string, Found[]>();
  return {
    steady: true,
    ahead(many) {
      const found = target.findManyBy(same, many);
      looked = new Map(many.map((values, i) => [keyOf(values, alike), found[i] as Found[]]));
    },
    find: (values) => looked.get(keyOf(values, alike)) ?? target.findBy(same, values),
  };
}

function finderInList(target: Target, same: Column[], alike: boolean): Finder {
  const all = new Map<string, Found[]>();
  const keyOfSame = (values: Stored[]) =>
    keyOf(
      values.map((value, i) => told(value, same[i] as Column) as Stored),
      alike,
    );
  for (const { row, values } of target.everyRow(same)) {
    if (values.includes(null)) continue;
    const key = keyOfSame(values);
    const known = all.get(key);
    if (known) known.push({ row });
    else all.set(key, [{ row }]);
  }
  return { ...NOTHING, find: (values) => all.get(keyOfSame(values)) ?? [] };
}

/** What makes rows the same, as one text; several values are kept apart whatever is in them. */
export function keyOf(values: Stored[], alike: boolean): string {
  const [only] = values;
  // Most rows are told apart by one value.
  if (values.length === 1 && !alike) return String(only);
  const texts = values.map((value) => (alike && typeof value === "string" ? similarKey(value) : String(value)));
  return texts.length === 1 ? (texts[0] as string) : JSON.stringify(texts);
}

/** A server may hold a value otherwise than it is written: a decimal with fewer digits, a moment with its offset. */
const HELD_OTHERWISE: ReadonlySet<Storage> = new Set<Storage>(["numeric", "zoned"]);

/** Whether a column holds a value already. */
export const sameStored = (a: Stored | Uint8Array, b: Stored, column: Column): boolean =>
  encodeImage([a]) === encodeImage([b]) || (HELD_OTHERWISE.has(column.storage) && told(a, column) === told(b, column));

/** A value as it is told from others of its column. */
const told = (value: Stored | Uint8Array, column: Column): unknown => (HELD_OTHERWISE.has(column.storage) ? cellOfStored(value, column) : value);
