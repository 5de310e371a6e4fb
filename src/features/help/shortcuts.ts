import type { GuidePage } from "@/core/help/guidePages";
import type { Shortcut } from "./screens";
import { WORDS } from "./words";

const OWN: Partial<Record<GuidePage, Shortcut[]>> = {
  tables: WORDS.sheet,
  queries: WORDS.sheet,
  pivots: WORDS.pivot,
  charts: WORDS.chart,
  folio: WORDS.folio,
  dashboards: WORDS.dashboard,
};

/** The keys of a screen: its own first, then those of every page. */
export const shortcutsOf = (page: GuidePage): Shortcut[] => [...(OWN[page] ?? []), ...WORDS.general];
