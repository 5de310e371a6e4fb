"use client";

import { useState } from "react";
import type { Parameter, ParameterValues } from "@/core/query/spec";
import type { Choice } from "@/server/services/queries/choices";
import { onEnter } from "@/ui/onEnter";
import { useAnswer } from "../useAnswer";
import { WORDS } from "./words";

type Props = { name: string; from: NonNullable<Parameter["from"]>; values: ParameterValues; value: string; set: (value: string) => void };

/** A row of a table or saved query, sought by a name that it is shown by. */
export function RowInput({ name, from, values, value, set }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  /** What was chosen last: it is called so before it is asked what it is called. */
  const [picked, setPicked] = useState<Choice | null>(null);
  const { [name]: _, ...others } = values;
  const { answer: own } = useAnswer<Choice[]>("/api/query/choices", value === "" ? null : { ...from, chosen: value, values: others }, { settleMs: 0 });
  const { answer: found } = useAnswer<Choice[]>("/api/query/choices", typed === null ? null : { ...from, sought: typed, values: others });
  const shown = value === "" ? "" : ([...(own ?? []), ...(picked ? [picked] : [])].find((c) => c.value === value)?.words ?? value);
  const choose = (choice: Choice | undefined) => {
    if (choice) {
      setPicked(choice);
      set(choice.value);
    }
    setTyped(null);
  };
  const leave = () => {
    if (typed?.trim() === "") set("");
    setTyped(null);
  };
  return (
    <span className="relative block" onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && leave()}>
      <input
        className="field"
        role="combobox"
        aria-label={name}
        aria-expanded={typed !== null}
        aria-controls={`${name} rows`}
        placeholder={WORDS.findARow}
        value={typed ?? shown}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={onEnter(() => choose(typed?.trim() ? found?.[0] : undefined))}
      />
      {typed !== null && (
        <span id={`${name} rows`} role="listbox" className="popover absolute z-10 mt-1 block max-h-56 w-56 overflow-auto">
          {(found ?? []).map((choice) => (
            <button
              key={`${choice.value} ${choice.words}`}
              type="button"
              role="option"
              aria-selected={choice.value === value}
              className="menu-item"
              onClick={() => choose(choice)}
            >
              {choice.words} <span className="text-soft">{choice.words === choice.value ? "" : choice.value}</span>
            </button>
          ))}
          {found?.length === 0 && <span className="text-soft">{WORDS.noSuchRow}</span>}
        </span>
      )}
    </span>
  );
}
