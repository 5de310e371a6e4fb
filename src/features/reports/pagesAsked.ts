import type { ReportSpec } from "@/core/report/spec";
import type { Asked } from "@/server/answers/ahead";

/** What is asked for one page of a report, with its outline and proof. */
export const pagesAsked = (spec: ReportSpec, at: number): Asked => ({ path: "/api/report/pages", body: { spec, from: at, to: at } });

/** What a report's page asks first; its first page alone is laid out sooner than all are counted. */
export const firstPageAsked = (spec: ReportSpec): Asked[] => [
  { ...pagesAsked(spec, 1), aside: true },
  { path: "/api/report/glance", body: { spec } },
];
