/**
 * The colours of marks, told apart by lightness as well as by hue; each stands out from paper by 3 to 1 or more
 * (WCAG 2.2, 1.4.11). The rest of a first n is always stone.
 */
export const CHART_COLOURS = ["#0e5a52", "#b07c1e", "#6a3865", "#3f6c9b", "#b4533a", "#6f792b", "#86837a"] as const;
export const REST_COLOUR = "#86837a";
export const INK = { ink: "#1d2930", soft: "#56626a", hairline: "#dcd5c2", paper: "#f8f5ec", vermilion: "#a8371f", ochre: "#8a5e0c" };

/** Relative luminance of a colour "#rrggbb" (WCAG 2.2). */
export function luminance(hex: string): number {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((at) => {
    const part = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/**
 * The colour of each key of a chart. What was chosen for a value, in any chart, is kept; the others take the colours that
 * are left, in order.
 * @param chosen places in CHART_COLOURS by key
 */
export function coloursFor(keys: string[], chosen: Record<string, number>): Map<string, string> {
  const at = (place: number) => CHART_COLOURS[place % CHART_COLOURS.length] ?? REST_COLOUR;
  const taken = new Set(keys.flatMap((k) => (chosen[k] === undefined ? [] : [chosen[k] % CHART_COLOURS.length])));
  const free = CHART_COLOURS.map((_, i) => i).filter((i) => !taken.has(i));
  let next = 0;
  return new Map(
    keys.map((key) => {
      const own = chosen[key];
      if (own !== undefined) return [key, at(own)];
      if (key === "rest") return [key, REST_COLOUR];
      return [key, at(free[next++ % Math.max(1, free.length)] ?? next)];
    }),
  );
}
