import type { Asked } from "@/core/page/asked";
import type { About, PageQuestion } from "@/server/services/pages/answer";

/** Where a page's questions go, and what goes with each: an address, a saved page, or one being built. */
export type Asking = { path: string; with: object };

export const aboutAsked: PageQuestion = { ask: "about" };
export const searchAsked = (asked: Asked, page: number): PageQuestion => ({ ask: "search", asked, page });

/** What a form has before anything is typed: its fields' defaults. */
export const firstSearch = ({ form }: Extract<About, { kind: "search" }>): Asked => ({
  fields: form.map((f) => ({ values: f.value === "" ? [] : [f.value], ...(f.operators[0] ? { operator: f.operators[0].name as "is" } : {}) })),
  sort: null,
});
