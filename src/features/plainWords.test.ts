import { readdirSync, readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

/* Turns of phrase that were once on the screens and must not come back: translated idioms, riddles, archaic words. */
const ODD = [
  "is gone",
  "are gone",
  "that is gone",
  "bring in",
  "bring a file",
  "brought",
  "bring it back",
  "bring them back",
  "brings it back",
  "take it off",
  "take the ",
  "taken back",
  "take it back",
  "take back",
  "takes back",
  "took off",
  "leave it",
  "look at the",
  "held against",
  "hold it against",
  "lies here",
  "bars that lie",
  "stands here",
  "stands beside",
  "worked out from each other",
  "cannot be worked out",
  "let it go",
  "cross its fields",
  "crosses its fields",
  "not fitting",
  "do not fit",
  "so many",
  "all the same",
  "in the meantime",
  "shall",
  "whose it is",
  "who made it",
  "left as they are",
  "as it is kept",
  "in one go",
  "the row before",
  "comes to a",
  "rules on rows",
  "barred",
  "ask from",
  "derive a field",
  "with it:",
  "of its own accord",
  "nothing is asked for",
  "by hand",
  "is none",
  "are told apart",
  "to the work",
];
const odd = new RegExp(`\\b(${ODD.map((p) => p.replaceAll(/[.*+?^${}()|[\]\\]/g, "\\$&").trim()).join("|")})\\b`, "i");

/** The texts in a source: what stands between quotation marks, outside comments. */
function textsIn(source: string): string[] {
  const code = source.replace(/\/\*[\s\S]*?\*\//g, "").replace(/(^|\s)\/\/.*$/gm, "");
  return [...code.matchAll(/"((?:[^"\\\n]|\\.)*)"|`((?:[^`\\]|\\.)*)`/g)]
    .map((m) => m[1] ?? m[2] ?? "")
    .map((text) => text.replace(/\$\{[^}]*\}/g, "…"))
    .filter((text) => / /.test(text));
}

/** The files under a folder with an ending, tests left out. */
function filesOf(folder: string, ending: RegExp): string[] {
  const found = readdirSync(folder, { recursive: true, encoding: "utf8" }).filter((f) => ending.test(f) && !/\.test\.tsx?$/.test(f));
  expect(found.length).toBeGreaterThan(5);
  return found.map((f) => `${folder}/${f}`);
}

describe("odd English", () => {
  it("is found where it stands, and only there", () => {
    expect(odd.test("The link is gone.")).toBe(true);
    expect(odd.test("The linkage is gonecase.")).toBe(false);
    expect(textsIn('/* "is gone now" */ const a = "is gone again"; // "is gone too"')).toEqual(["is gone again"]);
  });
  it("does not come back into what a person reads on the screens", () => {
    const found = [];
    for (const file of [...filesOf("src", /\.tsx?$/), ...filesOf("demo", /\.ts$/)])
      for (const text of textsIn(readFileSync(file, "utf8"))) if (odd.test(text)) found.push(`${file}: ${text}`);
    expect(found).toEqual([]);
  });
  it("nor into the guide", () => {
    const found = [];
    for (const file of [...filesOf("docs/guide", /\.md$/), "README.md"])
      for (const [i, line] of readFileSync(file, "utf8").split("\n").entries()) if (odd.test(line)) found.push(`${file}:${i + 1}: ${line}`);
    expect(found).toEqual([]);
  });
});
