import { fileName } from "@/server/common/fileName";

/** File names without what file systems refuse, each once: a name that comes again gets a number. Case does not tell names apart. */
export function uniqueNames(names: string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const clean = fileName(name, "x").slice(0, -2);
    let unique = clean;
    for (let n = 2; taken.has(unique.toLowerCase()); n++) unique = `${clean} (${n})`;
    taken.add(unique.toLowerCase());
    return unique;
  });
}
