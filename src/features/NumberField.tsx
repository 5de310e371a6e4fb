"use client";

import { useId } from "react";
import { typedNumber } from "@/core/types/decimal";
import { COMMON } from "./words";

/** A number that is typed; what is none says so where it stands. */
export function NumberField({ label, value, onChange }: { label: string; value: string; onChange: (next: string) => void }) {
  const id = useId();
  const wrong = value.trim() !== "" && typedNumber(value) === null;
  return (
    <span className="grid gap-0.5">
      <input
        className="field"
        inputMode="decimal"
        aria-label={label}
        aria-invalid={wrong}
        aria-describedby={wrong ? id : undefined}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
      {wrong && (
        <span id={id} className="text-small text-vermilion">
          {COMMON.notANumber}
        </span>
      )}
    </span>
  );
}
