"use client";

/** How many digits after the point are shown; all of them where nothing is given. */
export function DigitsInput({
  label,
  digits,
  none,
  onChange,
}: {
  label: string;
  digits: number | undefined;
  none: string;
  onChange: (next: number | undefined) => void;
}) {
  return (
    <label className="grid flex-1 gap-0.5 text-small">
      {label}
      <input
        className="field"
        type="number"
        min={0}
        max={12}
        placeholder={none}
        value={digits ?? ""}
        onChange={(e) => onChange(e.target.value === "" ? undefined : Math.max(0, Math.min(12, Math.trunc(Number(e.target.value)))))}
      />
    </label>
  );
}
