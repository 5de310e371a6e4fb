import type { ReportSpec } from "@/core/report/spec";
import type { Asked } from "@/server/http/ahead";

/** What is asked for a page of a report, or some from it on, with its outline and proof. */
export const pagesAsked = (spec: ReportSpec, at: number, count = 1): Asked => ({ path: "/api/report/pages", body: { spec, from: at, to: at + count - 1 } });

/** What a report's page asks first; its first page alone is laid out sooner than all are counted. */
export const firstPageAsked = (spec: ReportSpec): Asked[] => [
  { ...pagesAsked(spec, 1), aside: true },
  { path: "/api/report/glance", body: { spec } },
];
