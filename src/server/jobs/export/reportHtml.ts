import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type { Page, PageItem } from "@/core/report/page";
import { pictureAddress } from "@/core/types/picture";
import { WholeFile } from "./files";
import { INK } from "./fonts";

/*
 * Pages as one HTML file that needs nothing else: each page is drawn as it is in the PDF, at the size of its paper, and is
 * printed on a sheet of its own (CSS Paged Media).
 */

const require = createRequire(import.meta.url);
const FACES = [
  { family: "Sans", style: "normal", file: "@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2", range: "latin" },
  { family: "Sans", style: "normal", file: "@fontsource-variable/source-sans-3/files/source-sans-3-latin-ext-wght-normal.woff2", range: "more" },
  { family: "Sans", style: "italic", file: "@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-italic.woff2", range: "latin" },
  { family: "Sans", style: "italic", file: "@fontsource-variable/source-sans-3/files/source-sans-3-latin-ext-wght-italic.woff2", range: "more" },
  { family: "Serif", style: "normal", file: "@fontsource-variable/source-serif-4/files/source-serif-4-latin-wght-normal.woff2", range: "latin" },
  { family: "Serif", style: "normal", file: "@fontsource-variable/source-serif-4/files/source-serif-4-latin-ext-wght-normal.woff2", range: "more" },
] as const;
/** Which characters a file of a font holds, as its package says. */
const RANGES = {
  latin: "U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215,U+FEFF,U+FFFD",
  more: "U+0100-0130,U+0132-0151,U+0154-02BA,U+1E00-1E9F,U+1EF2-1EFF,U+20A0-20AB,U+20AD-20C0,U+2113,U+2C60-2C7F,U+A720-A7FF",
};

const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c] ?? c);
const place = (n: number): string => String(Math.round(n * 100) / 100);

const CLASSES = { serifBold: "f", sans: "s", sansBold: "b", sansItalic: "i", sansBoldItalic: "bi" } as const;

function drawn(item: PageItem): string {
  switch (item.kind) {
    case "rule":
      return `<path d="M${place(item.x)} ${place(item.y)}h${place(item.width)}" stroke="${INK.ink}" stroke-width="${item.weight}"/>`;
    case "picture":
      return `<image x="${place(item.x)}" y="${place(item.y)}" width="${place(item.width)}" height="${place(item.height)}" href="${pictureAddress(item.png)}"><title>${escaped(item.alt)}</title></image>`;
    case "text": {
      const anchor = item.end === undefined ? "" : ' text-anchor="end"';
      const heading = item.tag?.kind === "heading" ? ` role="heading" aria-level="${item.tag.level}"` : "";
      return `<text x="${place(item.end ?? item.x)}" y="${place(item.y)}" class="${CLASSES[item.font]}" font-size="${place(item.size)}" fill="${INK[item.tone]}"${anchor}${heading}>${escaped(item.text)}</text>`;
    }
    default:
      return item satisfies never;
  }
}

function head(title: string, lang: string, { width, height }: Pick<Page, "width" | "height">): string {
  const faces = FACES.map(({ family, style, file, range }) => {
    const data = readFileSync(require.resolve(file)).toString("base64");
    return `@font-face{font-family:${family};font-style:${style};font-weight:200 900;src:url(data:font/woff2;base64,${data}) format("woff2");unicode-range:${RANGES[range]}}`;
  });
  return `<!doctype html>
<html lang="${escaped(lang)}">
<head>
<meta charset="utf-8">
<title>${escaped(title)}</title>
<style>
${faces.join("\n")}
@page{size:${place(width)}pt ${place(height)}pt;margin:0}
body{margin:0;background:#E9E4D6}
svg{display:block;margin:12pt auto;background:#fff;width:${place(width)}pt;height:${place(height)}pt;font-family:Sans,sans-serif;font-kerning:none;font-variant-ligatures:none;white-space:pre}
.f{font-family:Serif,serif;font-weight:600}.b,.bi{font-weight:600}.i,.bi{font-style:italic}
@media print{body{background:none}svg{margin:0;break-after:page}svg:last-child{break-after:auto}}
</style>
</head>
<body>
`;
}

/** Writes pages as one HTML file, whole or not at all. @param draw adds the pages in order @returns the bytes written */
export function writePagesHtml(path: string, info: { title: string; lang: string }, draw: (addPage: (page: Page) => void) => void): number {
  const file = new WholeFile(path);
  let begun = false;
  try {
    draw((page) => {
      if (!begun) file.write(head(info.title, info.lang, page));
      begun = true;
      file.write(`<svg viewBox="0 0 ${place(page.width)} ${place(page.height)}" aria-label="${page.number}">\n${page.items.map(drawn).join("\n")}\n</svg>\n`);
    });
    file.write("</body>\n</html>\n");
    file.finish();
    return file.bytes;
  } catch (error) {
    file.abandon();
    throw error;
  }
}
