"use client";

import { type Aggregate, NTH } from "@/core/query/aggregates";
import { COMMON } from "../words";

type Props = { counts: NonNullable<Aggregate["counts"]>; value: number | undefined; set: (next: number | undefined) => void };

/** Which row in an order is meant, or how many values a list has at most: nothing typed is the usual, or all of them. */
export function CountInput({ counts, value, set }: Props) {
  const label = counts === "which" ? COMMON.whichInOrder : COMMON.valuesAtMost;
  return (
    <label className="flex items-center gap-2 text-small">
      {label}
      <input
        className="field w-20"
        type="number"
        min={1}
        max={1000}
        aria-label={label}
        placeholder={counts === "which" ? String(NTH) : COMMON.all}
        value={value ?? ""}
        onChange={(e) => set(e.target.value === "" ? undefined : Math.min(1000, Math.max(1, Math.round(Number(e.target.value)))))}
      />
    </label>
  );
}
