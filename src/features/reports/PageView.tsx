import type { Font, Page, Tone } from "@/core/report/page";
import { pictureAddress } from "@/core/types/picture";
import { WORDS } from "./words";

const FONTS: Record<Font, { family: string; weight: number; style?: string }> = {
  serifBold: { family: "var(--font-serif)", weight: 600 },
  sans: { family: "var(--font-sans)", weight: 400 },
  sansBold: { family: "var(--font-sans)", weight: 600 },
  sansItalic: { family: "var(--font-sans)", weight: 400, style: "italic" },
  sansBoldItalic: { family: "var(--font-sans)", weight: 600, style: "italic" },
};
const INK: Record<Tone, string> = {
  ink: "var(--color-ink)",
  faint: "var(--color-soft)",
  green: "var(--color-bottle)",
  ochre: "var(--color-ochre)",
  vermilion: "var(--color-vermilion)",
};

/** One laid-out page, drawn from the same places as the PDF. */
export function PageView({ page }: { page: Page }) {
  return (
    <svg
      viewBox={`0 0 ${page.width} ${page.height}`}
      role="img"
      aria-label={WORDS.pageNumber(page.number)}
      // Places were measured glyph by glyph, as the PDF is printed: no kerning, no ligatures.
      style={{ fontKerning: "none", fontVariantLigatures: "none" }}
      className="printed mx-auto block w-full max-w-[46rem] bg-white shadow-md"
      data-page={page.number}
    >
      {page.items.map((item, i) =>
        item.kind === "picture" ? (
          <image key={`picture ${i}`} href={pictureAddress(item.png)} x={item.x} y={item.y} width={item.width} height={item.height}>
            <title>{item.alt}</title>
          </image>
        ) : item.kind === "rule" ? (
          <line key={`rule ${i}`} x1={item.x} x2={item.x + item.width} y1={item.y} y2={item.y} stroke={INK.ink} strokeWidth={item.weight} />
        ) : (
          <text
            key={`text ${i}`}
            x={item.end ?? item.x}
            y={item.y}
            textAnchor={item.end === undefined ? "start" : "end"}
            fontSize={item.size}
            fontFamily={FONTS[item.font].family}
            fontWeight={FONTS[item.font].weight}
            fontStyle={FONTS[item.font].style}
            fill={INK[item.tone]}
            xmlSpace="preserve"
          >
            {item.text}
          </text>
        ),
      )}
    </svg>
  );
}
