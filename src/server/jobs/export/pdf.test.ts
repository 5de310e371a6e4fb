import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, rmSync, statSync, symlinkSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createCanvas } from "@napi-rs/canvas";
import { expect, it } from "vitest";
import type { Page, PageItem, Tag } from "@/core/report/page";
import { pdfBuffer, writePdf } from "./pdf";

const page = (number: number): Page => ({
  number,
  width: 595,
  height: 842,
  items: Array.from({ length: 40 }, (_, row) => ({
    kind: "text" as const,
    x: 40,
    y: 40 + row * 14,
    text: `Row ${row} of page ${number}`,
    font: "sans" as const,
    size: 9,
    tone: "ink" as const,
    tag: { kind: "cell" as const, table: 1, row: number * 40 + row, head: false },
  })),
});

it("is on the disk as far as it is drawn: a long one does not wait in memory", async () => {
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-"));
  const path = join(folder, "out.pdf");
  const info = { title: "Rows", lang: "en" };
  let half = 0;
  const bytes = await writePdf(path, info, (_doc, addPage) => {
    for (let number = 0; number < 100; number++) addPage(page(number));
    half = statSync(`${path}.part`).size;
    for (let number = 100; number < 200; number++) addPage(page(number));
  });
  expect(half).toBeGreaterThan(bytes / 4);
  expect(statSync(path).size).toBe(bytes);
  const failing = writePdf(path, info, () => {
    throw new Error("no rows");
  });
  await expect(failing).rejects.toThrow("no rows");
  expect(statSync(path).size).toBe(bytes);
  rmSync(folder, { recursive: true });
});

it("draws no more pages once the disk is full, says so, and leaves nothing", async () => {
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-"));
  const path = join(folder, "out.pdf");
  symlinkSync("/dev/full", `${path}.part`);
  let drawn = 0;
  const writing = writePdf(path, { title: "Rows", lang: "en" }, (_doc, addPage) => {
    for (; drawn < 5_000; drawn++) addPage(page(drawn));
  });
  await expect(writing).rejects.toThrow("ENOSPC");
  expect(drawn).toBeLessThan(500);
  expect([existsSync(path), readdirSync(folder)]).toEqual([false, []]);
  rmSync(folder, { recursive: true });
});

it("holds a picture once, on however many pages it stands, and says of a broken one that it cannot be read", async () => {
  const canvas = createCanvas(300, 200);
  const pixels = canvas.getContext("2d").getImageData(0, 0, 300, 200);
  // Noise, which no compression makes smaller.
  for (let i = 0, n = 1; i < pixels.data.length; i++) {
    n = (n * 48_271) % 2_147_483_647;
    pixels.data[i] = i % 4 === 3 ? 255 : n % 256;
  }
  canvas.getContext("2d").putImageData(pixels, 0, 0);
  const png = canvas.toBuffer("image/png").toString("base64");
  const drawn = (data: string, count: number) =>
    pdfBuffer({ title: "Pictures", lang: "en" }, (_doc, addPage) => {
      for (let number = 1; number <= count; number++)
        addPage({ number, width: 595, height: 842, items: [{ kind: "picture", x: 10, y: 10, width: 300, height: 200, png: data, alt: "Noise" }] });
    });
  const [one, ten] = [await drawn(png, 1), await drawn(png, 10)];
  expect(one.length).toBeGreaterThan(100_000);
  expect(ten.length).toBeLessThan(one.length * 1.2);
  await expect(drawn(png.slice(0, 40), 1)).rejects.toThrow("A picture cannot be read");
});

it("is read as it is meant: the pieces of a paragraph as one, of a cell as one, of each letter by itself", async () => {
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-"));
  const path = join(folder, "letters.pdf");
  const text = (x: number, words: string, tag: Tag): PageItem => ({ kind: "text", x, y: 40, text: words, font: "sans", size: 9, tone: "ink", tag });
  const letter = (name: string): Page => ({
    number: 1,
    width: 595,
    height: 842,
    items: [
      text(40, `Dear ${name}, `, { kind: "paragraph", of: 1 }),
      text(90, "hello", { kind: "paragraph", of: 1 }),
      text(40, "Again", { kind: "paragraph", of: 2 }),
      text(40, "Owed", { kind: "cell", table: 3, row: 4, head: false, cell: 0 }),
      text(200, "5.00", { kind: "cell", table: 3, row: 4, head: false, cell: 1 }),
      text(230, "!", { kind: "cell", table: 3, row: 4, head: false, cell: 1 }),
    ],
  });
  await writePdf(path, { title: "Letters", lang: "en" }, (_doc, addPage) => {
    addPage(letter("Una"));
    addPage({ ...letter("Ivo"), items: letter("Ivo").items.slice(0, 2) });
    addPage({ ...letter("Ada"), items: letter("Ada").items.slice(0, 2) });
  });
  const read = execFileSync("pdfinfo", ["-struct-text", path], { encoding: "utf8", stdio: ["ignore", "pipe", "ignore"] });
  expect(read.split("\n").flatMap((line) => line.trim().replace(" (block)", "") || [])).toEqual([
    "Document",
    ...["P", '"Dear Una, "', '"hello"', "P", '"Again"'],
    ...["Table", "TR", "TD", '"Owed"', "TD", '"5.00"', '"!"'],
    ...["P", '"Dear Ivo, "', '"hello"'],
    ...["P", '"Dear Ada, "', '"hello"'],
  ]);
  rmSync(folder, { recursive: true });
});
