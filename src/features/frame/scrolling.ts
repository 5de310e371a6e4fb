"use client";

/** How far parts of a page are scrolled, by what tells them apart. */
export type Scrolled = Map<string, number>;

/** What tells a part of a page from others when the page is drawn anew. */
const keyOf = (part: Element): string => [part.tagName, part.getAttribute("role"), part.getAttribute("aria-label"), part.className].join(" ");

/** Writes down how far the parts of an element are scrolled, as long as it is told to. @returns what ends it */
export function keepScrolling(work: HTMLElement, scrolled: Scrolled): () => void {
  const note = ({ target }: Event) => {
    if (target instanceof Element) scrolled.set(keyOf(target), target.scrollTop);
  };
  work.addEventListener("scroll", note, { capture: true, passive: true });
  return () => work.removeEventListener("scroll", note, { capture: true });
}

const AGAIN_MS = 100;
/** Rows come a while after their page; then a page is what it is. */
const MOST_TRIES = 50;

/** Scrolls parts to where they were, as soon as they are long enough; anybody's own scrolling ends it. @returns what ends it too */
export function restoreScrolling(work: HTMLElement, scrolled: Scrolled): () => void {
  const left = new Map([...scrolled].filter(([, top]) => top > 0));
  let tries = 0;
  const timer = setInterval(() => {
    for (const part of work.querySelectorAll("*")) {
      if (part.scrollHeight <= part.clientHeight) continue;
      const top = left.get(keyOf(part));
      if (top === undefined || part.scrollHeight - part.clientHeight < top) continue;
      part.scrollTop = top;
      left.delete(keyOf(part));
    }
    if (left.size === 0 || ++tries >= MOST_TRIES) stop();
  }, AGAIN_MS);
  const stop = () => {
    clearInterval(timer);
    work.removeEventListener("wheel", stop);
    work.removeEventListener("keydown", stop);
    work.removeEventListener("pointerdown", stop);
  };
  for (const own of ["wheel", "keydown", "pointerdown"]) work.addEventListener(own, stop, { passive: true });
  return stop;
}
