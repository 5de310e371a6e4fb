import { openBrowser } from "/work/main/test/support/browser.mjs";

const [, , url, out, w = "1280", h = "800", ...steps] = process.argv;
const b = await openBrowser({ width: +w, height: +h });
const p = await b.newPage();
p.on("console", (m) => {
  if (["error", "warn"].includes(m.type())) console.log("console:", m.text());
});
p.on("pageerror", (e) => console.log("pageerror:", e.message));
await p.goto(url, { waitUntil: "load" });
await new Promise((r) => setTimeout(r, 500));
for (const s of steps) {
  const [k, ...v] = s.split("=");
  const a = v.join("=");
  if (k === "click") await p.locator(a).click();
  if (k === "type") await p.keyboard.type(a);
  if (k === "key") await p.keyboard.press(a);
  if (k === "wait") await new Promise((r) => setTimeout(r, +a));
  if (k === "eval") console.log(await p.evaluate(a));
}
await new Promise((r) => setTimeout(r, 600));
await p.screenshot({ path: out });
await b.close();
