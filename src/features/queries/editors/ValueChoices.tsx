"use client";

import { useEffect, useRef, useState } from "react";
import { writtenOut } from "@/core/posting/coerce";
import { toggleValue, writtenValues } from "@/core/query/fromCell";
import { keyText } from "@/core/query/namedRows";
import type { Condition, ParameterValues, QuerySpec } from "@/core/query/spec";
import { type CellWriter, cellWriter, writeCount } from "@/core/types/format";
import { isMisfit } from "@/core/types/valueType";
import type { FrequentAnswer } from "@/server/services/queries/profile";
import type { EditorProps } from "../../editors/parts";
import { useAnswer } from "../../useAnswer";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { namedWriter, useRowNames } from "../useRowNames";
import { WORDS } from "../words";

/** From how many values on they are searched. */
const MANY = 8;

/** Writes values that occur; those that are keys of rows with names by these. */
export function useFrequentWriter(answer: FrequentAnswer | null): CellWriter {
  const locale = useLocale();
  const column = { type: answer?.type ?? { kind: "text" as const }, rowOf: answer?.rowOf, format: { grouping: false } };
  const keys = (answer?.frequent ?? []).flatMap(({ value }) => keyText(value, column.type) ?? []);
  const nameOf = useRowNames(column.rowOf === undefined || keys.length === 0 ? [] : [{ table: column.rowOf, keys }]);
  return namedWriter(column, cellWriter(column.type, column.format, locale), nameOf);
}

/** The values that occur, with their rows: one or several are picked for a condition. */
export function ValueChoices({ spec, change, values = {}, condition }: Pick<EditorProps, "spec" | "change" | "values"> & { condition: Condition }) {
  const chosen = writtenValues(condition);
  return <OccurringValues {...{ spec, values, condition, chosen }} toggle={(text) => change(toggleValue(spec, condition.id, text))} />;
}

type Occurring = {
  spec: QuerySpec;
  values: ParameterValues;
  condition: Condition;
  chosen: string[];
  toggle: (text: string) => void /** The keyboard goes to the first of them when they are there. */;
  first?: boolean;
};

/** What occurs in the field of a condition, with how many rows: ticked where it is chosen. */
export function OccurringValues({ spec, values, condition, chosen, toggle, first = false }: Occurring) {
  const locale = useLocale();
  const [sought, setSought] = useState("");
  const asked = { spec, values, left: condition.left, condition: condition.id, sought: sought.trim() };
  const { answer, failure } = useAnswer<FrequentAnswer>("/api/query/frequent", asked, { settleMs: 150 });
  const write = useFrequentWriter(answer);
  const list = useRef<HTMLUListElement>(null);
  const there = answer !== null;
  useEffect(() => {
    if (first && there) list.current?.querySelector("input")?.focus();
  }, [first, there]);
  if (failure) return null;
  if (!answer) return <p className="pt-2 text-small text-soft">{COMMON.counting}</p>;
  const { type, rowOf, frequent } = answer;
  return (
    <div className="pt-2">
      {(frequent.length > MANY || sought !== "") && (type.kind === "text" || rowOf !== undefined) && (
        <input className="field mb-1" aria-label={WORDS.findAValue} placeholder={WORDS.findAValue} value={sought} onChange={(e) => setSought(e.target.value)} />
      )}
      <ul ref={list} aria-label={WORDS.valuesThatOccur} className="max-h-44 overflow-auto">
        {frequent.map(({ value, rows }) => {
          if (value === null || isMisfit(value)) return null;
          const text = writtenOut(value, type);
          return (
            <li key={text}>
              <label className="flex items-center gap-2 rounded px-1 hover:bg-bottle-tint">
                <input type="checkbox" className="accent-bottle" checked={chosen.includes(text)} onChange={() => toggle(text)} />
                <span className="min-w-0 flex-1 truncate">{write(value).text}</span>
                <span className="text-small text-soft tabular-nums">{writeCount(rows, locale)}</span>
              </label>
            </li>
          );
        })}
      </ul>
      {frequent.length === 0 && <p className="text-small text-soft">{WORDS.noSuchValue}</p>}
    </div>
  );
}
