import type { Problem } from "../types/problem";
import { GRAND } from "./choices";
import type { Part } from "./page";
import type { ReportSpec } from "./spec";

/** Where in a report a problem stands, in words, and the part whose settings mend it; null where it has none. */
export type Place = { words: string; part: Part | null };

const TEXTS: Record<string, Part> = { title: { kind: "title" }, subtitle: { kind: "subtitle" }, header: { kind: "header" }, footer: { kind: "footer" } };

/**
 * The place of a problem in a report.
 * @param columnName what a column of the report is called
 * @example placeInReport(["levels", 0, "heading"], spec, …) // { words: "Group 1, heading text", part: { kind: "heading", level: "shipper" } }
 */
export function placeInReport([first, at, ...rest]: Problem["path"], spec: ReportSpec, columnName: (id: string) => string): Place {
  const i = Number(at);
  switch (first) {
    case "levels": {
      const level = spec.levels[i];
      return { words: `Group ${i + 1}${rest[0] === "heading" ? ", heading text" : ""}`, part: level ? { kind: "heading", level: level.id } : null };
    }
    case "columns": {
      const column = spec.columns[i];
      return column ? { words: `Column ${columnName(column.id)}`, part: { kind: "columnHeading", column: column.id } } : { words: "", part: null };
    }
    case "lines": {
      const line = spec.lines[i];
      const under = rest[0] === "cells" ? `, under ${columnName(String(rest[1]))}` : "";
      return { words: `Footing line ${i + 1}${under}`, part: line ? { kind: "footing", line: line.id, level: GRAND, column: null, keys: [] } : null };
    }
    case "related": {
      const table = spec.related?.[i];
      return { words: `Related rows, ${table?.title || i + 1}`, part: table ? { kind: "related", id: table.id, column: null } : null };
    }
    case "summaries": {
      const summary = spec.summaries?.[i];
      return { words: `Summary, line ${Number(rest[1] ?? 0) + 1}`, part: summary ? { kind: "summary", level: summary.under } : null };
    }
    case "inserts": {
      const insert = spec.inserts?.[i];
      return { words: `The ${insert?.kind ?? "chart"} of each group`, part: insert ? { kind: "heading", level: insert.under } : null };
    }
    case "passages": {
      const passage = spec.passages?.[i];
      return { words: `Text ${i + 1}`, part: passage ? { kind: "passage", id: passage.id } : null };
    }
    case "shape":
    case "page":
      return { words: first === "page" ? "Page" : "Layout", part: { kind: "label" } };
    case "first":
      return { words: `First page, ${String(at)}`, part: { kind: at === "footer" ? "footer" : "header" } };
    default: {
      const name = String(first ?? "");
      const part = TEXTS[name] ?? null;
      return { words: part ? name.charAt(0).toUpperCase() + name.slice(1) : "", part };
    }
  }
}
