import { GUIDE_PAGES, type GuidePage } from "@/core/help/guidePages";

/** Which page of the guide belongs to which screen: the first that the address begins with. */
const SCREENS: [RegExp, GuidePage][] = [
  [/^\/$/, "desk"],
  [/^\/tables\/import/, "import"],
  [/^\/tables\/[^/]+\/folio/, "folio"],
  [/^\/tables/, "tables"],
  [/^\/postings/, "postings"],
  [/^\/queries/, "queries"],
  [/^\/pivots/, "pivots"],
  [/^\/charts/, "charts"],
  [/^\/reports/, "reports"],
  [/^\/letters/, "letters"],
  [/^\/dashboards/, "dashboards"],
  [/^\/pages/, "pages"],
  [/^\/(schedules|outbox)/, "schedules"],
  [/^\/(people|me)/, "people"],
  [/^\/settings/, "settings"],
];

/** The page of the guide for a screen, by its address. @example guidePageFor("/queries/a1") // "queries" */
export const guidePageFor = (path: string): GuidePage => SCREENS.find(([begins]) => begins.test(path))?.[1] ?? "README";

/** The page of the guide that a link within the guide leads to; null for any other link. */
export function guidePageOf(href: string): GuidePage | null {
  const name = /^([\w-]+)\.md(#.*)?$/.exec(href)?.[1];
  return GUIDE_PAGES.find((page) => page === name) ?? null;
}

export type Shortcut = { keys: string; does: string };
