import { COMMON } from "../words";
import { WORDS } from "./words";

export type Section = { href: string; name: string };

/** The sections in the order of the job, in groups; the desk stands before them. */
export const GROUPS: { name: string; sections: Section[] }[] = [
  {
    name: WORDS.data,
    sections: [
      { href: "/tables", name: COMMON.tables },
      { href: "/postings", name: COMMON.postings },
    ],
  },
  {
    name: WORDS.ask,
    sections: [
      { href: "/queries", name: COMMON.queries },
      { href: "/pivots", name: COMMON.pivots },
      { href: "/charts", name: COMMON.charts },
    ],
  },
  {
    name: WORDS.show,
    sections: [
      { href: "/reports", name: COMMON.reports },
      { href: "/letters", name: COMMON.letters },
      { href: "/dashboards", name: COMMON.dashboards },
      { href: "/pages", name: COMMON.pages },
    ],
  },
  {
    name: WORDS.repeat,
    sections: [
      { href: "/schedules", name: COMMON.schedules },
      { href: "/outbox", name: COMMON.outbox },
    ],
  },
];

/** What a viewer has: the sections of what can be shared with them. */
const VIEWED: ReadonlySet<string> = new Set(["/queries", "/pivots", "/charts", "/reports", "/letters", "/dashboards", "/pages"]);

/** The groups as a role has them; a group without sections is left out. */
export const groupsFor = (role: string): typeof GROUPS =>
  role === "viewer" ? GROUPS.map((g) => ({ ...g, sections: g.sections.filter((s) => VIEWED.has(s.href)) })).filter((g) => g.sections.length > 0) : GROUPS;

/** Sections that have pages under another path too: a link is one of tables. */
const ALSO: Record<string, string> = { "/tables": "/links" };

/** Whether a page belongs to a section. */
export const isHere = (path: string, { href }: Section): boolean =>
  href === "/" ? path === "/" : [href, ALSO[href]].some((at) => at !== undefined && (path === at || path.startsWith(`${at}/`)));
