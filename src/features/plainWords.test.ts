import { readdirSync, readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { odd } from "../../test/support/oddWords";

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
