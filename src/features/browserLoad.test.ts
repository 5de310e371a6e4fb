import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { expect, it } from "vitest";

/*
 * What a browser loads: the modules reached, by imports of values, from those that say "use client". The checker of shapes
 * (Zod, 33 kB compressed) and the server's own code are not among them.
 */
const SOURCES = new Map(
  (readdirSync("src", { recursive: true }) as string[])
    .filter((path) => /\.tsx?$/.test(path) && !/\.test\./.test(path))
    .map((path) => [resolve("src", path), readFileSync(join("src", path), "utf8")]),
);

/** Modules whose values a module imports: packages by name, our own by path. */
function importsOf(path: string): string[] {
  const source = SOURCES.get(path) ?? "";
  return [...source.matchAll(/^(?:import|export) (?!type )([^"]*?) from "([^"]+)";/gms)].flatMap(([, names = "", from = ""]) => {
    const values = names
      .replace(/[{}]/g, "")
      .split(",")
      .filter((n) => n.trim() !== "" && !/^\s*type /.test(n));
    if (values.length === 0) return [];
    if (!/^[.@]\/|^\.\./.test(from)) return [from];
    const at = from.startsWith("@/") ? resolve("src", from.slice(2)) : resolve(dirname(path), from);
    const found = [`${at}.ts`, `${at}.tsx`].find((p) => SOURCES.has(p));
    return found ? [found] : [];
  });
}

it("a browser loads neither the checker of shapes nor the server's code", () => {
  const from = new Map<string, string | null>([...SOURCES].filter(([, source]) => source.startsWith('"use client"')).map(([path]) => [path, null]));
  expect(from.size).toBeGreaterThan(100);
  const way = (path: string): string => [path, ...(from.get(path) ? [way(from.get(path) as string)] : [])].join(" ← ");
  const wrong: string[] = [];
  for (const path of from.keys())
    for (const next of importsOf(path)) {
      if (next === "zod" || next.includes("/src/server/")) wrong.push(`${next} ← ${way(path)}`);
      else if (SOURCES.has(next) && !from.has(next)) from.set(next, path);
    }
  expect(wrong).toEqual([]);
});
