import { existsSync } from "node:fs";
import puppeteer from "puppeteer-core";

const PATHS = [process.env.CHROMIUM, "/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

/** Debian's Chromium, headless, at the size the screens are drawn for. */
export function openBrowser(size = { width: 1280, height: 800 }) {
  return puppeteer.launch({
    executablePath: PATHS.find((path) => path && existsSync(path)),
    headless: true,
    defaultViewport: size,
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
