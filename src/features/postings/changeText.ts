const SHOWN: Record<string, string> = { " ": "␣", "\u00a0": "␣", "\t": "⇥", "\n": "↵", "\r": "↵" };

const withoutWhite = (text: string): string => text.replace(/\s/gu, "");

/**
 * Two values that differ, for a person to see in what: where they differ in white space alone, it is drawn.
 * @example changeText("Old Shop ", "Old Shop", "→") // "Old␣Shop␣ → Old␣Shop"
 */
export function changeText(was: string, now: string, sign: "→" | "≠"): string {
  const isWhite = withoutWhite(was) === withoutWhite(now);
  const drawn = (text: string) => (isWhite ? text.replace(/\s/gu, (c) => SHOWN[c] ?? "␣") : text) || "–";
  return `${drawn(was)} ${sign} ${drawn(now)}`;
}
