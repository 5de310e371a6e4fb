import { COMMON } from "../words";

/** The percentage of a percentile. */
export function PercentInput({ value, set }: { value: number | undefined; set: (percent: number) => void }) {
  return (
    <label className="grid gap-0.5 text-small">
      {COMMON.percentage}
      <input
        className="field"
        type="number"
        min={0}
        max={100}
        step={0.5}
        value={value ?? 90}
        onChange={(e) => set(Math.min(100, Math.max(0, Number(e.target.value))))}
      />
    </label>
  );
}
