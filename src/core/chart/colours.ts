/**
 * What a chart is drawn with. `series` are the colours of marks, told apart by lightness as well as by hue; each stands out
 * from paper by 3 to 1 or more (WCAG 2.2, 1.4.11). `rest` is that of all after the first n.
 */
export type ChartTheme = {
  series: readonly string[];
  rest: string;
  ink: string;
  soft: string;
  hairline: string;
  paper: string;
  vermilion: string;
  ochre: string;
};

/** On paper, and on a light screen. */
export const LIGHT: ChartTheme = {
  series: ["#0e5a52", "#b07c1e", "#6a3865", "#3f6c9b", "#b4533a", "#6f792b", "#86837a"],
  rest: "#86837a",
  ink: "#1d2930",
  soft: "#56626a",
  hairline: "#dcd5c2",
  paper: "#f8f5ec",
  vermilion: "#a8371f",
  ochre: "#8a5e0c",
};

/** On a dark screen: the same hues, lighter. */
export const DARK: ChartTheme = {
  series: ["#4fa497", "#d9a441", "#b886b2", "#7ba7d4", "#e08a6f", "#a9b45c", "#9b978c"],
  rest: "#9b978c",
  ink: "#e7e4da",
  soft: "#b3b9b6",
  hairline: "#333d40",
  paper: "#161c1e",
  vermilion: "#f0937c",
  ochre: "#e0b458",
};

/** How many colours there are to choose from. */
export const COLOUR_COUNT = LIGHT.series.length;

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

/** A number that is the same for a text everywhere (FNV-1a, 32 bits, public domain). */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0;
  return hash;
}

/** Whether a key is that of a value, which has its colour in every chart; others are a chart's own series. */
const isValue = (key: string): boolean => key !== "" && !/^figure \d+$/.test(key);

/**
 * The colour of each key of a chart. What was chosen for a value, in any chart, is kept. Another value has the colour that
 * follows from the value itself, whatever its place, so that charts of the same values agree; where two values of a chart
 * would have one, the later of the two by name takes the next that is free. Series without a value take what is left, in order.
 * @param chosen places among the theme's colours by key
 */
export function coloursFor(keys: string[], chosen: Record<string, number>, { series, rest }: ChartTheme): Map<string, string> {
  const count = series.length;
  const places = new Map<string, number>();
  const others = keys.filter((key) => key !== "rest");
  for (const key of others) if (chosen[key] !== undefined) places.set(key, chosen[key] % count);
  const taken = new Set(places.values());
  // The colour of the rest is not a value's as long as there are others.
  if (keys.includes("rest") && others.length < count) taken.add(count - 1);
  const place = (key: string, wanted: number) => {
    let at = wanted % count;
    for (let tries = 0; taken.has(at) && tries < count; tries++) at = (at + 1) % count;
    if (taken.size >= count) at = wanted % count;
    taken.add(at);
    places.set(key, at);
  };
  const left = [...new Set(others)].filter((key) => !places.has(key));
  for (const key of left.filter(isValue).toSorted((a, b) => (a < b ? -1 : 1))) place(key, hashOf(key));
  left.filter((key) => !isValue(key)).forEach((key, i) => place(key, i));
  return new Map(keys.map((key) => [key, series[places.get(key) ?? -1] ?? rest]));
}
