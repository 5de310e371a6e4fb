import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";

/*
 * What is loaded when it is first shown must not hold up the rest of its page. Without something to show meanwhile,
 * next/dynamic gives it no boundary of its own (next/dist/shared/lib/lazy-dynamic/loadable): React then commits nothing of
 * the page until it has come, and what is typed in the meantime is lost.
 */
it("has something to show in its place until it is there", () => {
  const files = readdirSync("src", { recursive: true, encoding: "utf8" }).filter((name) => /\.tsx?$/.test(name) && !name.includes(".test."));
  const calls = files.flatMap((name) => readFileSync(join("src", name), "utf8").match(/dynamic\(\(\) => import\([\s\S]*?\);\n/g) ?? []);
  expect(calls.length).toBeGreaterThan(10);
  expect(calls.filter((call) => !/loading:|ssr: false/.test(call))).toEqual([]);
});
