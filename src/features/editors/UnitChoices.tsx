"use client";

import { useWays } from "../workspace/ways";

/** Units that are offered after the currency; any other may be typed. */
const UNITS = ["kg", "t", "l", "m", "km", "h", "min", "%"];

/** What a field for a unit offers: the workspace's currency first. */
export function UnitChoices({ id }: { id: string }) {
  const { currency } = useWays();
  return (
    <datalist id={id}>
      {[currency, ...UNITS].filter(Boolean).map((unit) => (
        <option key={unit} value={unit} />
      ))}
    </datalist>
  );
}
