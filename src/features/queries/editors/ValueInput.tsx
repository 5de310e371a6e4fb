"use client";

import { isDated, isNumber, type ValueType } from "@/core/types/valueType";
import { WORDS } from "../words";

/** One value as typed, in the notation of its type. */
export function ValueInput({ type, value, onChange, label }: { type: ValueType; value: string; onChange: (next: string) => void; label: string }) {
  if (type.kind === "yesno")
    return (
      <select className="field" aria-label={label} value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">–</option>
        <option value="yes">{WORDS.yes}</option>
        <option value="no">{WORDS.no}</option>
      </select>
    );
  return (
    <input
      className="field"
      aria-label={label}
      type={isDated(type) ? "date" : "text"}
      inputMode={isNumber(type) ? "decimal" : undefined}
      value={value}
      onChange={(e) => onChange(e.target.value)}
    />
  );
}
