import { humanise, plural, singular } from "./schema";

/** Endings of a column's name that say it names a row elsewhere. */
const ENDINGS = /\b(id|key|code|no|nr|number|ref|name)$/;

/**
 * How much the name of a column speaks for a link to a column of a table, from 0 to 1: "shipper id" names the shipper's
 * id; "from harbour id" names a harbour's; "class" names a column called class. Common practice of naming keys.
 * @example nameLikeness("shipper_id", "shipper", "id") // 1
 */
export function nameLikeness(column: string, table: string, farColumn: string): number {
  const [near, far, farName] = [column, table, farColumn].map((n) => humanise(n).toLowerCase()) as [string, string, string];
  const stem = near.replace(ENDINGS, "").trim();
  const ending = ENDINGS.exec(near)?.[1] ?? "";
  const names = [far, plural(far), singular(far)];
  const fits = ending === "" || ending === farName || farName.endsWith(ending) || farName === "id";
  if (names.includes(stem) && ending !== "") return fits ? 1 : 0.7;
  if (names.includes(near)) return 0.8;
  if (names.some((n) => stem.endsWith(` ${n}`)) && ending !== "") return 0.9;
  // A letter or two, as in n, mean nothing.
  if (near === farName) return near.length < 3 || (ENDINGS.test(near) && stem === "") ? 0 : 0.6;
  if (`${far} ${farName}` === near) return 1;
  return 0;
}

/** Whether a name looks as if it held a reference at all: "desk officer id", "reports to", "entered by". */
export const looksLikeReference = (column: string): boolean => /\b(id|key|code|no|nr|ref|to|by|of)$/.test(humanise(column).toLowerCase());
