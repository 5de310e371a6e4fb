import type { Page } from "puppeteer-core";

/**
 * What is laid out wrongly on a page as it stands: words cut off where they cannot be read otherwise, and what can be
 * clicked but lies under something else. What is scrolled out of sight is not looked at.
 */
export const layoutFindings = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const seen = (e: Element) => e.checkVisibility({ visibilityProperty: true, opacityProperty: true });
    const said = (e: Element) => `${e.tagName.toLowerCase()} “${(e.getAttribute("aria-label") ?? e.textContent ?? "").trim().slice(0, 50)}”`;
    /** Whether a place is in sight: within the window and every part that scrolls or cuts. */
    const inSight = (e: Element, x: number, y: number): boolean => {
      if (x < 0 || y < 0 || x >= innerWidth || y >= innerHeight) return false;
      for (let part = e.parentElement; part; part = part.parentElement) {
        if (getComputedStyle(part).overflow === "visible") continue;
        const { left, top, right, bottom } = part.getBoundingClientRect();
        if (x < left || x > right || y < top || y > bottom) return false;
      }
      return true;
    };
    const cut = [...document.querySelectorAll("h1, h2, h3, button, a, label, legend, th, dt, dd, p, [role=tab], [role=columnheader]")]
      .filter(seen)
      .filter((e) => {
        const { overflowX, textOverflow } = getComputedStyle(e);
        // What is shown to screen readers alone, or when it has the focus, is a pixel wide.
        if (overflowX === "visible" || e.scrollWidth <= e.clientWidth + 1 || e.clientWidth < 3) return false;
        if (overflowX === "auto" || overflowX === "scroll") return false;
        // Shortened words can be read where they are pointed at.
        return textOverflow !== "ellipsis" || !e.closest("[title], [aria-label]");
      })
      .map((e) => `cut off: ${said(e)}`);
    const covered = [...document.querySelectorAll("button, a[href], input:not([type=file]), select, textarea, summary")].filter(seen).flatMap((e) => {
      const { left, top, width, height } = e.getBoundingClientRect();
      const [x, y] = [left + width / 2, top + height / 2];
      if (width < 3 || height < 3 || e.closest(".sr-only") || !inSight(e, x, y)) return [];
      const above = document.elementFromPoint(x, y);
      const own = !above || e.contains(above) || above.contains(e) || above.closest("label")?.contains(e) || above.closest("[data-sonner-toaster]");
      return own ? [] : [`under ${said(above)}: ${said(e)}`];
    });
    // Narrower, a page is one column that is scrolled as a whole.
    const wide = innerWidth > 768 && document.querySelector("main");
    const beyond = wide && document.documentElement.scrollHeight > innerHeight + 1 ? ["the page itself scrolls beside its parts"] : [];
    return [...cut, ...covered, ...beyond];
  });
