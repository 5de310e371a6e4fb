"use client";

import type { Merged } from "@/core/duplicates/merging";
import { writeCount } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** What merging comes to: rows before and after, what leads elsewhere from then on, and what cannot be merged. */
export function MergeProof({ merged: { rowsBefore, rowsAfter, carried, filled, refused } }: { merged: Merged }) {
  const locale = useLocale();
  const lines: [words: string, rows: number][] = [...carried.map((c): [string, number] => [WORDS.leads(c.label), c.rows]), [WORDS.filled, filled]];
  return (
    <div className="grid gap-4">
      <table className="w-full">
        <tbody>
          <Line words={WORDS.rowsNow} text={writeCount(rowsBefore, locale)} />
          <Line words={WORDS.removed} text={writeCount(rowsBefore - rowsAfter, locale)} />
          <Line words={WORDS.rowsAfter} text={writeCount(rowsAfter, locale)} total />
        </tbody>
      </table>
      <table className="w-full">
        <tbody>
          {lines.map(([words, rows]) => (
            <Line key={words} words={words} text={writeCount(rows, locale)} />
          ))}
        </tbody>
      </table>
      {refused.length > 0 && (
        <Notice tone="look">
          <b>{WORDS.refused}</b>
          {refused.slice(0, 20).map(({ key, why }) => (
            <p key={key}>
              {key}: {why}
            </p>
          ))}
        </Notice>
      )}
    </div>
  );
}

const Line = ({ words, text, total }: { words: string; text: string; total?: boolean }) => (
  <tr className={total ? "double-rule border-t border-ink font-semibold" : ""}>
    <th scope="row" className={`py-1 text-left ${total ? "" : "font-normal"}`}>
      {words}
    </th>
    <td className="text-right tabular-nums">{text}</td>
  </tr>
);
