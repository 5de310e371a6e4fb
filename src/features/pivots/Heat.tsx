import { heatOf } from "@/core/pivot/heat";
import type { Pivot } from "@/core/pivot/pivot";
import type { PivotSpec } from "@/core/pivot/spec";
import { cellWriter } from "@/core/types/format";
import { useLocale } from "../workspace/locale";

/** How much of the colour each shade has, in per cent. */
const SHADES = [0, 8, 16, 26, 38];
export const MOST_SHADE = SHADES.length - 1;

export const shadeColour = (shade: number, negative: boolean): string =>
  `color-mix(in srgb, var(--color-${negative ? "vermilion" : "bottle"}) ${SHADES[shade] ?? 0}%, var(--color-sheet))`;

/** What the shades of a pivot mean. */
export function HeatLegend({ pivot, spec }: { pivot: Pivot; spec: PivotSpec }) {
  const locale = useLocale();
  const heat = heatOf(pivot, spec);
  const figure = heat && pivot.figures[heat.figure];
  if (!figure) return null;
  const write = cellWriter(figure.type, figure.format, locale);
  return (
    <span className="flex items-center gap-1.5">
      {figure.heading}: {write(figure.type.kind === "floating" ? 0 : "0").text}
      {SHADES.slice(1).map((share, i) => (
        <span key={share} className="h-3 w-5 border border-hairline" style={{ background: shadeColour(i + 1, false) }} />
      ))}
      {write(figure.type.kind === "floating" ? heat.most : String(Math.round(heat.most))).text}
    </span>
  );
}
