"use client";

import type { ValueType } from "@/core/types/valueType";
import { TypedInput } from "./TypedInput";
import { WORDS } from "./words";

/** One value of a type: picked where there are two, else typed. */
export function ValueInput({ type, value, onChange, label }: { type: ValueType; value: string; onChange: (next: string) => void; label: string }) {
  if (type.kind !== "yesno") return <TypedInput type={type} value={value} label={label} onChange={onChange} />;
  return (
    <select className="field" aria-label={label} value={value} onChange={(e) => onChange(e.target.value)}>
      <option value="">–</option>
      <option value="yes">{WORDS.yes}</option>
      <option value="no">{WORDS.no}</option>
    </select>
  );
}
