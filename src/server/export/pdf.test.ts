import { existsSync, mkdtempSync, readdirSync, rmSync, statSync, symlinkSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, it } from "vitest";
import type { Page } from "@/core/report/page";
import { writePdf } from "./pdf";

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
