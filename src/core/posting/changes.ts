/** How many rows a posting added, changed and removed. */
export type Changes = { add: number; change: number; remove: number };

const SIGNS: Record<keyof Changes, string> = { add: "+", change: "~", remove: "−" };

/** The one thing a posting did to rows; "several" where it did more than one, null where it did nothing. */
export function changesIn(changes: Changes): keyof Changes | "several" | null {
  const [first, ...more] = (Object.keys(SIGNS) as (keyof Changes)[]).filter((kind) => changes[kind] > 0);
  return more.length > 0 ? "several" : (first ?? null);
}

/**
 * All that a posting did to rows, in signs: none of it is left out.
 * @example changesText({ add: 2300, change: 200, remove: 0 }, String) // "+2300 ~200"
 */
export function changesText(changes: Changes, write: (count: number) => string): string {
  const said = (Object.keys(SIGNS) as (keyof Changes)[]).flatMap((kind) => (changes[kind] > 0 ? [`${SIGNS[kind]}${write(changes[kind])}`] : []));
  return said.join(" ") || `~${write(0)}`;
}
