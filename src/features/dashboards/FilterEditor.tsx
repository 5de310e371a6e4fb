"use client";

import { useEffect, useRef, useState } from "react";
import { relativeOf, relativeText } from "@/core/dashboard/filters";
import type { DashboardFilter, FilterValue } from "@/core/dashboard/spec";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/relative";
import { isDated, isNumber, type ValueType } from "@/core/types/valueType";
import { sentenceOf } from "../ask";
import { Choice, Remove } from "../editors/parts";
import { TypedInput } from "../editors/TypedInput";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = {
  /** Asks for the values that occur. */
  choices: () => Promise<string[]>;
  filter: DashboardFilter;
  type: ValueType;
  value: FilterValue | null;
  change: (next: FilterValue | null) => void;
  close: () => void;
};

/** A filter's value: some of the values that occur or all but those, or a span; back to everything in one step. */
export function FilterEditor(props: Props) {
  const { filter, type, value, change, close } = props;
  return (
    <div className="grid gap-2">
      <p className="caption">{filter.label}</p>
      {filter.default?.kind === "person" && (
        <Choice
          chosen={value?.kind === "person"}
          onClick={() => {
            change({ kind: "person" });
            close();
          }}
        >
          {WORDS.myOwn(filter.label)}
        </Choice>
      )}
      {isDated(type) || isNumber(type) ? <SpanEditor {...props} /> : type.kind === "yesno" ? <YesNo {...props} /> : <SetEditor {...props} />}
      <Remove
        onClick={() => {
          change(null);
          close();
        }}
      >
        {WORDS.allOf(filter.label)}
      </Remove>
    </div>
  );
}

function YesNo({ value, change, close }: Props) {
  const now = value?.kind === "set" ? value.values[0] : undefined;
  return (
    <>
      {["yes", "no"].map((v) => (
        <Choice
          key={v}
          chosen={now === v}
          onClick={() => {
            change({ kind: "set", not: false, values: [v] });
            close();
          }}
        >
          {v}
        </Choice>
      ))}
    </>
  );
}

function SpanEditor({ type, value, change, filter }: Props) {
  const span = value?.kind === "span" ? value : { kind: "span" as const, from: "", to: "" };
  const set = (next: Partial<typeof span>) => {
    const whole = { ...span, ...next };
    change(whole.from === "" && whole.to === "" ? null : whole);
  };
  return (
    <>
      {(["from", "to"] as const).map((end) => {
        const relative = relativeOf(span[end]);
        return (
          <label key={end} className="grid gap-0.5">
            {end}
            {isDated(type) && (
              <select
                className="field"
                aria-label={WORDS.typedAs(filter.label, end)}
                value={relative ?? "day"}
                onChange={(e) => set({ [end]: e.target.value === "day" ? "" : relativeText(e.target.value as RelativeDate) })}
              >
                <option value="day">{COMMON.date}</option>
                {(Object.keys(RELATIVE_DATES) as RelativeDate[]).map((d) => (
                  <option key={d} value={d}>
                    {RELATIVE_DATES[d].words}
                  </option>
                ))}
              </select>
            )}
            {!relative && <TypedInput type={type} label={`${filter.label} ${end}`} value={span[end]} onChange={(next) => set({ [end]: next })} />}
          </label>
        );
      })}
    </>
  );
}

function SetEditor({ choices: askFor, filter, value, change }: Props) {
  const [choices, setChoices] = useState<string[] | null>(null);
  const [failure, setFailure] = useState("");
  const [wanted, setWanted] = useState("");
  const chosen = value?.kind === "set" ? value : { kind: "set" as const, not: false, values: [] };
  // What occurs does not depend on what is ticked: it is asked for once, when the editor opens.
  const asked = useRef(askFor);
  useEffect(() => {
    asked.current().then(setChoices, (error) => setFailure(sentenceOf(error)));
  }, []);
  const toggle = (v: string) => {
    const values = chosen.values.includes(v) ? chosen.values.filter((x) => x !== v) : [...chosen.values, v];
    change(values.length === 0 ? null : { ...chosen, values });
  };
  const shown = (choices ?? []).filter((c) => c.toLowerCase().includes(wanted.trim().toLowerCase()));
  return (
    <>
      <input
        className="field"
        placeholder={WORDS.findAValue}
        aria-label={WORDS.findAValueOf(filter.label)}
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
      />
      <select
        className="field"
        aria-label={WORDS.includeOrExclude}
        value={chosen.not ? "not" : "only"}
        onChange={(e) => change({ ...chosen, not: e.target.value === "not" })}
      >
        <option value="only">{WORDS.includeTheTickedValues}</option>
        <option value="not">{WORDS.excludeTheTickedValues}</option>
      </select>
      {failure && <p className="text-vermilion">{failure}</p>}
      <div className="max-h-52 overflow-auto">
        {shown.slice(0, 300).map((v) => (
          <label key={v} className="flex gap-2 px-1 py-0.5 hover:bg-bottle-tint">
            <input type="checkbox" className="accent-bottle" checked={chosen.values.includes(v)} onChange={() => toggle(v)} />
            {v}
          </label>
        ))}
        {choices && shown.length === 0 && <p className="text-soft">{WORDS.noMatchingValue}</p>}
      </div>
    </>
  );
}
