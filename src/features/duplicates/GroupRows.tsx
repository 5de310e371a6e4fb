"use client";

import type { AlikeGroup, GroupChoice } from "@/core/duplicates/merging";
import type { Column } from "@/core/schema/schema";
import { cellWriter, writeCount } from "@/core/types/format";
import { isNumber } from "@/core/types/valueType";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Props = {
  columns: Column[];
  group: AlikeGroup;
  choice: GroupChoice;
  /** The columns that rows are compared by. */
  compared: string[];
  /** The columns of the key, which differ in any case. */
  keyed: string[];
  choose: (change: Partial<GroupChoice>) => void;
};

/** Rows that are alike: which of them stays, and what would go with the others. Values that differ from those of the row that stays stand out. */
export function GroupRows({ columns, group: { rows, near }, choice, compared, keyed, choose }: Props) {
  const locale = useLocale();
  const writers = columns.map((c) => cellWriter(c.type, c.format ?? {}, locale));
  const kept = rows[choice.keep];
  const called = rows[0]?.cells[columns.findIndex((c) => c.name === compared[0])] ?? "";
  return (
    <tbody className="border-b-2 border-rule">
      {rows.map((row, r) => (
        <tr key={row.key.join("\u0001")} className={`border-b border-hairline ${choice.merged ? (r === choice.keep ? "bg-bottle-tint" : "") : "text-soft"}`}>
          <td className="px-2 py-1 text-center">
            {r === 0 && (
              <input
                type="checkbox"
                className="accent-bottle"
                aria-label={WORDS.mergeGroup(String(called))}
                checked={choice.merged}
                onChange={(e) => choose({ merged: e.target.checked })}
              />
            )}
          </td>
          <td className="px-2 text-center">
            <input
              type="radio"
              className="accent-bottle"
              aria-label={WORDS.keepRow(row.key.join(", "))}
              checked={r === choice.keep}
              onChange={() => choose({ keep: r, merged: true })}
            />
          </td>
          <td className="px-2 text-right tabular-nums">{writeCount(row.links, locale)}</td>
          {columns.map((c, i) => {
            const cell = row.cells[i] ?? null;
            const differs =
              r !== choice.keep && !keyed.includes(c.name) && cell !== null && cell !== "" && JSON.stringify(cell) !== JSON.stringify(kept?.cells[i]);
            const name = compared.includes(c.name);
            return (
              <td
                key={c.name}
                className={`max-w-56 truncate px-2 whitespace-nowrap ${isNumber(c.type) ? "text-right tabular-nums" : ""} ${differs ? (name && near ? "font-semibold text-vermilion" : "text-ochre") : ""}`}
              >
                {writers[i]?.(cell).text}
              </td>
            );
          })}
        </tr>
      ))}
    </tbody>
  );
}
