"use client";

import type { ShapePlan } from "@/core/shape/shapePlan";
import type { ShapeSurvey } from "@/core/shape/survey";
import { counted, writeCount } from "@/core/types/format";
import type { ShapeUses } from "@/server/services/shape/uses";
import { Notice } from "@/ui/Notice";
import { useLocale } from "../workspace/locale";
import { UsesNotice } from "./UsesNotice";
import { WORDS } from "./words";

/** What a change of a table comes to, in numbers; what would stop working, and what stays. */
export function ShapeProof({ survey, plan, uses }: { survey: ShapeSurvey; plan: ShapePlan; uses: ShapeUses | null }) {
  const locale = useLocale();
  const { rows, kept, lostIndexes, made } = survey;
  const odd = plan.columns.flatMap(({ id, column, value }) => {
    const found = survey.columns[id];
    if (!found) return [];
    return [
      { words: `${column.label}: ${value.kind === "lookup" ? WORDS.matchNoRow : WORDS.notFit.toLowerCase()}`, rows: found.misfits.rows },
      { words: `${column.label}: ${WORDS.emptyRows("").trim()}`, rows: found.empty },
    ].filter((line) => line.rows > 0);
  });
  return (
    <div className="grid gap-4">
      <table className="w-full">
        <tbody>
          <Line words={WORDS.rowsNow} rows={rows} />
          {odd.map((line) => (
            <Line key={line.words} {...line} inner />
          ))}
          <Line words={WORDS.rowsAfter} rows={rows} total />
        </tbody>
      </table>
      {made.length > 0 && (
        <table className="w-full">
          <tbody>
            {made.map(({ id, label, rows }) => (
              <Line key={id} words={WORDS.rowsMade(label)} rows={rows} />
            ))}
          </tbody>
        </table>
      )}
      <UsesNotice uses={uses} />
      {lostIndexes.length > 0 && <Notice tone="look">{WORDS.goesWith(lostIndexes.join(", "))}</Notice>}
      {plan.how === "rebuild" && (
        <section>
          <h2 className="caption">{WORDS.keptAsIs}</h2>
          <p className="text-small text-soft">
            {kept.indexes + kept.triggers > 0 ? WORDS.kept(counted(kept.indexes, "index", locale), counted(kept.triggers, "trigger", locale)) : WORDS.keptOnly}
          </p>
        </section>
      )}
    </div>
  );
}

function Line({ words, rows, inner, total }: { words: string; rows: number; inner?: boolean; total?: boolean }) {
  const locale = useLocale();
  return (
    <tr className={total ? "double-rule border-t border-ink font-semibold" : ""}>
      <th scope="row" className={`py-1 text-left ${total ? "" : "font-normal"} ${inner ? "pl-3 text-soft" : ""}`}>
        {words}
      </th>
      <td className="text-right tabular-nums">{writeCount(rows, locale)}</td>
    </tr>
  );
}
