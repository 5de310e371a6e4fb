"use client";

import type { ValueType } from "@/core/types/valueType";
import { PeriodInput } from "./PeriodInput";
import { TypedInput } from "./TypedInput";
import { WORDS } from "./words";

type Props = { type: ValueType; value: string; onChange: (next: string) => void; label: string /** Whether it is a period of days. */; period?: boolean };

/** One value of a type: picked where there are two, else typed; or a period of days. */
export function ValueInput({ type, value, onChange, label, period = false }: Props) {
  if (period) return <PeriodInput value={value} label={label} onChange={onChange} />;
  if (type.kind !== "yesno") return <TypedInput type={type} value={value} label={label} onChange={onChange} />;
  return (
    <select className="field" aria-label={label} value={value} onChange={(e) => onChange(e.target.value)}>
      <option value="">–</option>
      <option value="yes">{WORDS.yes}</option>
      <option value="no">{WORDS.no}</option>
    </select>
  );
}
