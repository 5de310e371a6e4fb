import { expect, it } from "vitest";
import { lineReader } from "./protocol";

it.each([1, 2, 3, 7, 1000])("lines come whole, in whatever parts of %d bytes they arrive", (size) => {
  const lines = [{ batch: [["Ærø\nand more", 1, null]] }, { done: true }, { not: "…" }];
  const bytes = Buffer.from(lines.map((line) => `${JSON.stringify(line)}\n`).join(""));
  const taken: unknown[] = [];
  const read = lineReader((line) => taken.push(line));
  for (let at = 0; at < bytes.length; at += size) read(bytes.subarray(at, at + size));
  expect(taken).toEqual(lines);
});
