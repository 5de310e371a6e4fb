"use client";

import { useId, useState } from "react";
import { readTyped, writeTyped } from "@/core/types/typed";
import { isDated, isNumber, type ValueType } from "@/core/types/valueType";
import { useLocale } from "../workspace/locale";
import { useWays } from "../workspace/ways";
import { DayButton } from "./DayButton";
import { misread } from "./misread";

/** A date with its year in full says so while it is still typed; a shorter one could yet become another. */
const isWhole = (type: ValueType, typed: string): boolean => !isDated(type) || /\d{4}/.test(typed);

type TypedProps = {
  type: ValueType;
  value: string;
  label: string;
  onChange: (next: string) => void;
  /** Whether a number is typed as a percentage. */
  percent?: boolean;
};

/**
 * One value as it is typed in the workspace's notation: a date, a number, or a text. What is no value of its type says
 * so where it stands, and the value before is kept; a date can be picked from a calendar too.
 * @param value as it is kept: ISO 8601, plain digits
 */
export function TypedInput({ type, value, label, onChange, percent = false }: TypedProps) {
  const locale = useLocale();
  const { day } = useWays();
  const [typed, setTyped] = useState<string | null>(null);
  const id = useId();
  const read = (text: string) => (text.trim() === "" ? "" : readTyped(type, text, locale, day, percent));
  const wrong = typed !== null && read(typed) === null;
  const dated = isDated(type);
  function type_(text: string): void {
    setTyped(text);
    const next = read(text);
    if (next !== null && next !== value && (text.trim() === "" || isWhole(type, text))) onChange(next);
  }
  function finish(): void {
    const next = typed === null ? value : read(typed);
    if (next === null) return;
    setTyped(null);
    if (next !== value) onChange(next);
  }
  return (
    <span className="grid gap-0.5">
      <span className="relative flex items-center">
        <input
          className={`field ${dated ? "pr-8" : ""}`}
          aria-label={label}
          aria-invalid={wrong || undefined}
          aria-describedby={wrong ? id : undefined}
          placeholder={percent ? "%" : undefined}
          inputMode={isNumber(type) ? "decimal" : undefined}
          value={typed ?? writeTyped(type, value, locale, percent)}
          onChange={(e) => type_(e.target.value)}
          onBlur={finish}
          onKeyDown={(e) => e.key === "Enter" && finish()}
        />
        {dated && (
          <DayButton
            label={label}
            day={value}
            choose={(next) => {
              setTyped(null);
              onChange(next);
            }}
          />
        )}
      </span>
      {wrong && (
        <span id={id} role="alert" className="text-small text-vermilion">
          {misread(typed.trim(), type, locale, day)}
        </span>
      )}
    </span>
  );
}
