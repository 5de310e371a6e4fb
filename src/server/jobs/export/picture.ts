import { createCanvas, GlobalFonts, type Image, loadImage } from "@napi-rs/canvas";
import type { Font, Page } from "@/core/report/page";
import { FONTS, fontPath, INK } from "./fonts";

const family = (font: Font): string => `page ${font}`;
for (const font of FONTS) GlobalFonts.registerFromPath(fontPath(font), family(font));

const PAPER = "#ffffff";

/** A laid-out page as a PNG picture. */
export async function pagePicture(page: Page, pixelsPerPoint: number): Promise<Buffer> {
  const canvas = createCanvas(Math.round(page.width * pixelsPerPoint), Math.round(page.height * pixelsPerPoint));
  const context = canvas.getContext("2d");
  context.fillStyle = PAPER;
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.scale(pixelsPerPoint, pixelsPerPoint);
  // Places were measured glyph by glyph, as pages are printed.
  context.fontKerning = "none";
  for (const item of page.items)
    if (item.kind === "picture") context.drawImage(await loadImage(Buffer.from(item.png, "base64")), item.x, item.y, item.width, item.height);
    else if (item.kind === "rule") {
      context.fillStyle = INK.ink;
      context.fillRect(item.x, item.y - item.weight / 2, item.width, item.weight);
    } else {
      context.fillStyle = INK[item.tone];
      context.font = `${item.size}px "${family(item.font)}"`;
      context.fillText(item.text, item.x, item.y);
    }
  return canvas.toBuffer("image/png");
}

/** Any picture as PNG, which is what pages take. */
export function pngOf(image: Image): Buffer {
  const canvas = createCanvas(image.width, image.height);
  canvas.getContext("2d").drawImage(image, 0, 0);
  return canvas.toBuffer("image/png");
}
