"use client";

import { type Gone, replaceColumn, withoutColumns } from "@/core/report/gone";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../../words";
import { WORDS } from "../words";
import type { PanelProps } from "./panel";

/** What the report names and its query lacks: each can be pointed at another column, or removed. */
export function GonePanel({ spec, change, columns, gone }: Pick<PanelProps, "spec" | "change" | "columns"> & { gone: Gone[] }) {
  if (gone.length === 0) return null;
  return (
    <div className="mx-auto w-full max-w-[46rem]">
      <Notice tone="look">
        <p className="pb-1">
          <b>{WORDS.columnsGone(gone.length)}</b> {WORDS.columnsGoneHelp}
        </p>
        <ul className="grid gap-1">
          {gone.map(({ column, uses }) => {
            const name = column.replace(/^gone: /, "");
            return (
              <li key={column} className="flex flex-wrap items-center gap-3">
                <span className="min-w-32 flex-1">
                  <b>{name}</b> <span className="text-soft">{uses.map((use) => WORDS.goneUses[use]).join(", ")}</span>
                </span>
                <select
                  className="field w-44"
                  aria-label={WORDS.replaceGone(name)}
                  value=""
                  onChange={(e) => e.target.value && change(replaceColumn(spec, column, e.target.value))}
                >
                  <option value="">{WORDS.chooseAColumn}</option>
                  {columns.map((c) => (
                    <option key={c.id} value={c.id}>
                      {c.heading}
                    </option>
                  ))}
                </select>
                <button type="button" className="font-semibold text-vermilion hover:underline" onClick={() => change(withoutColumns(spec, [column]))}>
                  {COMMON.remove}
                </button>
              </li>
            );
          })}
        </ul>
      </Notice>
    </div>
  );
}
