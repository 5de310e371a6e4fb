"use client";

import type { ColumnFormat } from "@/core/types/schemas";
import { isDated, isNumber, type ValueType } from "@/core/types/valueType";
import { COMMON } from "../words";
import { DigitsInput } from "./DigitsInput";
import { Tick } from "./parts";

type Props = { type: ValueType; format: ColumnFormat | undefined; onChange: (next: ColumnFormat) => void };

/** How the values of a column are written: digits after the point, as percentages, thousands apart; the form of dates. */
export function FormatFields({ type, format = {}, onChange }: Props) {
  if (isDated(type))
    return (
      <label className="grid gap-0.5 text-small">
        {COMMON.dateFormat}
        <select
          className="field"
          value={format.date ?? "short"}
          onChange={(e) => onChange({ ...format, date: e.target.value as NonNullable<ColumnFormat["date"]> })}
        >
          <option value="short">{COMMON.shortDate}</option>
          <option value="long">{COMMON.longDate}</option>
          <option value="iso">2026-09-17</option>
        </select>
      </label>
    );
  if (!isNumber(type)) return null;
  if (type.kind === "whole")
    return (
      <Tick checked={format.grouping ?? true} set={(grouping) => onChange({ ...format, grouping })}>
        {COMMON.thousandsSeparator}
      </Tick>
    );
  return (
    <>
      <DigitsInput label={COMMON.decimalPlacesShown} none={COMMON.all} digits={format.decimals} onChange={(decimals) => onChange({ ...format, decimals })} />
      <Tick checked={format.percent ?? false} set={(percent) => onChange({ ...format, percent: percent || undefined })}>
        {COMMON.asPercentage}
      </Tick>
    </>
  );
}
