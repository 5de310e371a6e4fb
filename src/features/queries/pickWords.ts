import type { ProofPick } from "@/core/proof/proof";
import { isKey, type Plan } from "@/core/query/plan";
import { cellWriter, type Locale } from "@/core/types/format";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** What the rows are that were opened from a query: behind a number of its proof, or of one of its groups. */
export function pickWords(pick: ProofPick, plan: Plan, locale: Locale): string {
  if (pick.part !== "group") return WORDS.rowsBehindOneNumberOf;
  const keys = plan.columns.filter(isKey).slice(0, pick.keys.length);
  const group = keys.map(({ type, format }, i) => cellWriter(type, format, locale)(pick.keys[i] ?? null).text || COMMON.emptyValue).join(" › ");
  const figure = plan.columns.find((c) => c.id === pick.column);
  return figure ? WORDS.rowsOfFigure(figure.heading, group) : WORDS.rowsOfGroup(group);
}
