import { defaultText } from "../query/parameters";
import type { Parameter } from "../query/spec";
import type { Today } from "../types/calendar";
import { isIsoDate } from "../types/date";
import { type Locale, writeDate } from "../types/format";

type Asks = { query: { parameters: Parameter[] } };
/** What is known of a tile that was worked out: its query, and what its chart or pivot gives to the parameters. */
export type AskedTile =
  | (Asks & { kind: "figure" | "table" })
  | (Asks & { kind: "pivot"; spec: { parameters: Record<string, string> } })
  | (Asks & { kind: "chart"; spec: { pivot: { parameters: Record<string, string> } } });

/** What a tile's query asks for, as it is run for a dashboard: "start 1 Oct 2025 · end 30 Sep 2026". What is not given has its default. */
export function askedWords(tile: AskedTile, today: Today, locale: Locale): string {
  const bound = tile.kind === "chart" ? tile.spec.pivot.parameters : tile.kind === "pivot" ? tile.spec.parameters : {};
  return tile.query.parameters
    .flatMap((p) => {
      const text = bound[p.name] || defaultText(p, today);
      return text ? [`${p.name} ${isIsoDate(text) ? writeDate(text, locale) : text}`] : [];
    })
    .join(" · ");
}

/**
 * What each tile asks for, where those that ask for something do not all ask for the same: figures of a year and of a month
 * can then be told apart.
 */
export const differing = (asked: Record<string, string>): Record<string, string> => (new Set(Object.values(asked).filter(Boolean)).size > 1 ? asked : {});
