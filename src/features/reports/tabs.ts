import type { Part } from "@/core/report/page";

/** The panel in which a part of the page has its settings, by its place in the margin; null for what has none. */
export function tabOf(part: Part): number | null {
  switch (part.kind) {
    case "heading":
    case "footing":
    case "insert":
    case "summary":
      return 0;
    case "columnHeading":
    case "value":
    case "carried":
      return 1;
    case "related":
      return 2;
    case "title":
    case "subtitle":
    case "brief":
    case "letterhead":
    case "header":
    case "footer":
    case "label":
    case "passage":
      return 3;
    default:
      return part satisfies never;
  }
}
