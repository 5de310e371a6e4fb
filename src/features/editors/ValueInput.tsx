"use client";

import type { ComponentProps } from "react";
import { PeriodInput } from "./PeriodInput";
import { TypedInput } from "./TypedInput";
import { WORDS } from "./words";

type Props = ComponentProps<typeof TypedInput> & { /** Whether it is a period of days. */ period?: boolean };

/** One value of a type: picked where there are two, else typed; or a period of days. */
export function ValueInput({ period = false, ...typed }: Props) {
  const { type, value, onChange, label } = typed;
  if (period) return <PeriodInput value={value} label={label} onChange={onChange} />;
  if (type.kind !== "yesno") return <TypedInput {...typed} />;
  return (
    <select className="field" aria-label={label} value={value} onChange={(e) => onChange(e.target.value)}>
      <option value="">–</option>
      <option value="yes">{WORDS.yes}</option>
      <option value="no">{WORDS.no}</option>
    </select>
  );
}
