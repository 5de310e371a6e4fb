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
