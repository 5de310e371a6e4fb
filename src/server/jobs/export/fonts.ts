import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import * as fontkit from "fontkit";
import type { Font, Metrics, Tone } from "@/core/report/page";

const require = createRequire(import.meta.url);

/** The fonts of printed pages, whole TTF files that come with the npm packages. */
const FILES: Record<Font, string> = {
  serifBold: "@expo-google-fonts/source-serif-4/600SemiBold/SourceSerif4_600SemiBold.ttf",
  sans: "@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf",
  sansBold: "@expo-google-fonts/source-sans-3/600SemiBold/SourceSans3_600SemiBold.ttf",
  sansItalic: "@expo-google-fonts/source-sans-3/400Regular_Italic/SourceSans3_400Regular_Italic.ttf",
  sansBoldItalic: "@expo-google-fonts/source-sans-3/600SemiBold_Italic/SourceSans3_600SemiBold_Italic.ttf",
};

/** What each tone prints as. */
export const INK: Record<Tone, string> = { ink: "#1D2930", faint: "#56626A", green: "#0E5A52", ochre: "#8A5E0C", vermilion: "#A8371F" };

export const FONTS = Object.keys(FILES) as Font[];
export const fontPath = (font: Font): string => require.resolve(FILES[font]);

/** Widths by character, cached: laying a word out anew for each cell would take longer than printing it. */
export function fontMetrics(): Metrics {
  const advance = new Map<Font, (text: string) => number>();
  for (const font of FONTS) {
    const face = fontkit.create(readFileSync(fontPath(font))) as fontkit.Font;
    const known = new Map<string, number>();
    const widthOf = (character: string): number => {
      const seen = known.get(character);
      if (seen !== undefined) return seen;
      const width = face.glyphForCodePoint(character.codePointAt(0) ?? 32).advanceWidth / face.unitsPerEm;
      known.set(character, width);
      return width;
    };
    advance.set(font, (text) => {
      let sum = 0;
      for (const character of text) sum += widthOf(character);
      return sum;
    });
  }
  return { width: (text, font, size) => (advance.get(font)?.(text) ?? 0) * size };
}
