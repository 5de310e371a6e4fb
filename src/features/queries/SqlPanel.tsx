"use client";

import { partialTables } from "@/core/people/rules";
import { changesCase, plainSqlite } from "@/core/query/dialect/plainSqlite";
import type { Plan } from "@/core/query/plan";
import { readableSql } from "@/core/query/readableSql";
import { decimalText } from "@/core/types/decimal";
import { scaleOf } from "@/core/types/valueType";
import { copyText } from "../copyText";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** The query's SQL, with its bound values apart. It is copied with each value in its place. */
export function SqlPanel({ plan }: { plan: Plan | null }) {
  if (!plan) return <p className="text-soft">{WORDS.theSQLAppearsWhenThe}</p>;
  const sql = readableSql(plan, plainSqlite);
  const differs = changesCase(sql.text) ? WORDS.accentsElsewhere : null;
  const partial = partialTables(plan);
  return (
    <div className="grid gap-3">
      <button
        type="button"
        className="button justify-self-start"
        onClick={() => void copyText(differs ? `-- ${differs}\n${sql.written}` : sql.written, WORDS.sqlCopiedWithItsValues)}
      >
        {COMMON.copy}
      </button>
      <pre className="overflow-x-auto border border-rule bg-sheet p-2 font-mono text-tiny leading-5 whitespace-pre-wrap">{sql.text}</pre>
      {partial.length > 0 && <p className="text-small text-ochre">{WORDS.ruleNotShown(partial.join(COMMON.and))}</p>}
      {differs && <p className="text-small text-soft">{differs}</p>}
      {sql.text.includes("nl_") && <p className="text-small text-soft">{WORDS.functionsStartingWithNlBelong}</p>}
      <table className="w-full text-small">
        <caption className="caption pb-1 text-left">{WORDS.boundValues}</caption>
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
              <td className="text-soft">{COMMON.none}</td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}
