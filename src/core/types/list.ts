/** A list with one of its parts moved past its neighbour; the same list where there is none to move, or nowhere to go. */
export function moved<T>(list: T[], at: number, by: -1 | 1): T[] {
  if (at < 0 || at >= list.length || at + by < 0 || at + by >= list.length) return list;
  const next = [...list];
  next.splice(at + by, 0, ...next.splice(at, 1));
  return next;
}

/** A list with one of its parts changed, or taken out where the change comes to null. */
export const replaced = <T>(list: T[], at: number, change: (part: T) => T | null): T[] =>
  list.flatMap((part, i) => {
    if (i !== at) return [part];
    const next = change(part);
    return next === null ? [] : [next];
  });

/**
 * Names in one line, the first of them where they are many.
 * @example namedFirst(["a", "b", "c"], 2) // "“a”, “b” and 1 more"
 */
export function namedFirst(names: string[], most: number): string {
  const more = names.length - most;
  const named = names.slice(0, most).map((n) => `“${n}”`);
  return `${named.join(", ")}${more > 0 ? ` and ${more} more` : ""}`;
}
