/** A page one was on: its address within the application, and what it is called. */
export type Stop = { address: string; name: string };

/** How one came here: the pages before this one, the first first. */
export type Trail = { stops: Stop[]; here: Stop };

/** Pages that are remembered on the way; older ones are forgotten. */
const MOST_STOPS = 8;

const pathOf = (address: string): string => address.split("?")[0] ?? address;

/**
 * The way after another page was opened. Opening a page one came by is going back to it; choosing a section begins anew.
 * @param way how it was opened: from the page before, or by choosing a section
 */
export function arrive(trail: Trail, to: Stop, way: "within" | "section"): Trail {
  if (pathOf(to.address) === pathOf(trail.here.address)) return { ...trail, here: to };
  if (way === "section") return { stops: [], here: to };
  const before = trail.stops.findLastIndex((s) => pathOf(s.address) === pathOf(to.address));
  if (before >= 0) return { stops: trail.stops.slice(0, before), here: to };
  return { stops: [...trail.stops, trail.here].slice(-MOST_STOPS), here: to };
}

/** Whether opening a page is going back to where one was. */
export const isBack = (trail: Trail, address: string): boolean => trail.stops.some((s) => pathOf(s.address) === pathOf(address));

/**
 * The page to go back to, where it is worth saying: not the list of the section one is in, which its tab leads to, and
 * not where the page says so itself.
 */
export function cameFrom({ stops, here }: Trail): Stop | null {
  const last = stops.at(-1);
  const path = pathOf(here.address);
  if (!last || path.endsWith("/folio")) return null;
  const from = pathOf(last.address);
  return from !== "/" && path.startsWith(`${from}/`) ? null : last;
}

/** A trail as it was kept in the browser's tab; one that begins here where it was kept for another page. */
export function readTrail(kept: string | null, here: Stop): Trail {
  try {
    const trail = JSON.parse(kept ?? "") as Trail;
    if (pathOf(trail.here.address) === pathOf(here.address) && trail.stops.every((s) => /^\/(?!\/)/.test(s.address) && typeof s.name === "string"))
      return { stops: trail.stops.slice(-MOST_STOPS), here };
  } catch {}
  return { stops: [], here };
}
