import { expect, it } from "vitest";
import { importsOf, SOURCES } from "../../test/support/imports";

/*
 * What a browser loads: the modules reached, by imports of values, from those that say "use client". The checker of shapes
 * (Zod, 33 kB compressed) and the server's own code are not among them.
 */
it("a browser loads neither the checker of shapes nor the server's code", () => {
  const from = new Map<string, string | null>([...SOURCES].filter(([, source]) => source.startsWith('"use client"')).map(([path]) => [path, null]));
  expect(from.size).toBeGreaterThan(100);
  const way = (path: string): string => [path, ...(from.get(path) ? [way(from.get(path) as string)] : [])].join(" ← ");
  const wrong: string[] = [];
  for (const path of from.keys())
    for (const next of importsOf(path, false)) {
      if (next === "zod" || next.includes("/src/server/")) wrong.push(`${next} ← ${way(path)}`);
      else if (SOURCES.has(next) && !from.has(next)) from.set(next, path);
    }
  expect(wrong).toEqual([]);
});
