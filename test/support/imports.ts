import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";

/** Every source file by its path, tests apart. */
export const SOURCES = new Map(
  (readdirSync("src", { recursive: true }) as string[])
    .filter((path) => /\.tsx?$/.test(path) && !/\.test\./.test(path))
    .map((path) => [resolve("src", path), readFileSync(join("src", path), "utf8")]),
);

const isValue = (name: string): boolean => name.trim() !== "" && !/^\s*type /.test(name);

/**
 * What a source file imports: our own files by path, packages by name.
 * @param types whether imports of types count too
 */
export function importsOf(path: string, types: boolean): string[] {
  const source = SOURCES.get(path) ?? "";
  return [...source.matchAll(/^(?:import|export) (type )?([^"]*?) from "([^"]+)";/gms)].flatMap(([, type, names = "", from = ""]) => {
    if (!types && (type || !names.replace(/[{}]/g, "").split(",").some(isValue))) return [];
    if (!/^@\/|^\./.test(from)) return [from];
    const at = from.startsWith("@/") ? resolve("src", from.slice(2)) : resolve(dirname(path), from);
    const found = [`${at}.ts`, `${at}.tsx`].find((p) => SOURCES.has(p));
    return found ? [found] : [];
  });
}

/** The groups of files each of which leads to each other by imports, types counted (Tarjan 1972). */
export function importCircles(): string[][] {
  const order = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const circles: string[][] = [];
  const visit = (path: string): void => {
    order.set(path, order.size);
    low.set(path, order.get(path) ?? 0);
    stack.push(path);
    for (const next of importsOf(path, true)) {
      if (!SOURCES.has(next)) continue;
      if (!order.has(next)) visit(next);
      if (stack.includes(next)) low.set(path, Math.min(low.get(path) ?? 0, low.get(next) ?? 0));
    }
    if (low.get(path) !== order.get(path)) return;
    const circle = stack.splice(stack.indexOf(path));
    if (circle.length > 1) circles.push(circle);
  };
  for (const path of SOURCES.keys()) if (!order.has(path)) visit(path);
  return circles;
}
