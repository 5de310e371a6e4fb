/** A seeded source of chance, so that the demo company is always the same (mulberry32, public domain). */
export function seeded(seed: number) {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const whole = (least: number, most: number): number => least + Math.floor(next() * (most - least + 1));
  return {
    next,
    whole,
    chance: (share: number): boolean => next() < share,
    pick: <T>(items: readonly T[]): T => items[Math.floor(next() * items.length)] as T,
    /** One of the items, each as likely as its weight. */
    weighted: <T>(items: readonly T[], weight: (item: T) => number): T => {
      let at = next() * items.reduce((sum, item) => sum + weight(item), 0);
      for (const item of items) {
        at -= weight(item);
        if (at < 0) return item;
      }
      return items.at(-1) as T;
    },
  };
}

export type Random = ReturnType<typeof seeded>;
