"use client";

import { floating } from "@/core/types/valueType";
import { TypedInput } from "./TypedInput";

/** A number that is typed; what is none says so where it stands. */
export const NumberField = ({ label, value, onChange }: { label: string; value: string; onChange: (next: string) => void }) => (
  <TypedInput type={floating} label={label} value={value} onChange={onChange} />
);
