/** How a unit is written beside a heading: a currency by its sign, where it has one ("€" for EUR), others as they are. */
export function unitSign(unit: string): string {
  if (!/^[A-Z]{3}$/.test(unit)) return unit;
  const parts = new Intl.NumberFormat("en", { style: "currency", currency: unit, currencyDisplay: "narrowSymbol" }).formatToParts(0);
  return parts.find((p) => p.type === "currency")?.value ?? unit;
}

/** A heading with the unit of what stands under it. */
export const withUnit = (heading: string, unit: string | null | undefined): string => (unit ? `${heading}, ${unitSign(unit)}` : heading);
