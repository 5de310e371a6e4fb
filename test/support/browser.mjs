import { existsSync } from "node:fs";
import puppeteer from "puppeteer-core";

const PATHS = [process.env.CHROMIUM, "/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

/**
 * Debian's Chromium, headless, at the size the screens are drawn for.
 * @param scrollbars whether they are drawn, as people see them
 */
export function openBrowser({ scrollbars = false } = {}) {
  return puppeteer.launch({
    executablePath: PATHS.find((path) => path && existsSync(path)),
    headless: true,
    ignoreDefaultArgs: scrollbars ? ["--hide-scrollbars"] : [],
    defaultViewport: { width: 1280, height: 800 },
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  });
}
