"use client";

import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { decimalText } from "@/core/types/decimal";
import { scaleOf } from "@/core/types/valueType";

/** The SQL that runs, with its bound values apart. */
export function SqlPanel({ plan }: { plan: Plan | null }) {
  if (!plan) return <p className="text-soft">The SQL appears when the query can run.</p>;
  const sql = compileRows(plan, sqlite);
  return (
    <div className="grid gap-3">
      <pre className="overflow-x-auto border border-rule bg-sheet p-2 font-mono text-tiny leading-5 whitespace-pre-wrap">{sql.text}</pre>
      <table className="w-full text-small">
        <caption className="caption pb-1 text-left">Bound values</caption>
        <tbody>
          {sql.values.map((v) => (
            <tr key={v.name} className="border-t border-hairline">
              <th scope="row" className="py-1 text-left font-mono font-normal">
                @{v.name}
              </th>
              <td className="py-1 text-right">
                {v.value === null ? "empty" : scaleOf(v.type) > 0 ? decimalText(BigInt(v.value), scaleOf(v.type)) : v.value}
                {v.parameter && <span className="text-ochre"> {v.parameter}</span>}
              </td>
            </tr>
          ))}
          {sql.values.length === 0 && (
            <tr>
              <td className="text-soft">none</td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}
