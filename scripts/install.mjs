import { execFileSync } from "node:child_process";
import { existsSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { run, say } from "./run.mjs";

const major = Number(process.versions.node.split(".")[0]);
if (major < 20) {
  console.error(`Next Ledger needs Node.js 20 or later; this is ${process.versions.node}. Install a later one, then try again.`);
  process.exit(1);
}

const MARK = "node_modules/.installed";

/** Installs the npm packages unless those of the lock file are there. */
export async function installPackages() {
  const wanted = readFileSync("package-lock.json", "utf8");
  if (existsSync(MARK) && readFileSync(MARK, "utf8") === wanted) return;
  say("Installing packages (a few minutes the first time, as better-sqlite3 may be compiled)…");
  // Not “npm ci”: it refuses a lock file made where the registry serves only one platform's optional packages.
  const since = Date.now();
  const waiting = setInterval(() => say(`… still installing, after ${Math.round((Date.now() - since) / 1000)} seconds`), 30_000);
  await run("npm", ["install", "--no-save", "--include=dev", "--no-audit", "--no-fund"], { quiet: true }).finally(() => clearInterval(waiting));
  writeFileSync(MARK, wanted);
}

const CHROMIUM = ["/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];
const PDFTOTEXT = "/usr/bin/pdftotext";
const POSTGRES = "/usr/lib/postgresql";

/** What the tests need beside npm packages, installed with apt where it is missing: a browser, a reader of PDF text, a database server. */
export async function installTestTools() {
  const browser = () => [process.env.CHROMIUM, ...CHROMIUM].find((path) => path && existsSync(path));
  const missing = [...(browser() ? [] : ["chromium"]), ...(existsSync(PDFTOTEXT) ? [] : ["poppler-utils"]), ...(existsSync(POSTGRES) ? [] : ["postgresql"])];
  if (missing.length === 0) return;
  say(`Installing ${missing.join(", ")} with apt…`);
  const sudo = process.getuid?.() === 0 ? [] : ["sudo"];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, "apt-get", ...args];
    return run(command, rest, { quiet: true, env: { DEBIAN_FRONTEND: "noninteractive" } });
  };
  await apt("update");
  await apt("install", "-y", "--no-install-recommends", ...missing);
  if (!browser()) throw new Error("apt installed no Chromium. Install one and set CHROMIUM to its path.");
}

/** Builds the application unless the build is younger than every source. */
export async function buildApplication() {
  const built = statSync(".next/BUILD_ID", { throwIfNoEntry: false })?.mtimeMs ?? 0;
  const sources = execFileSync(
    "find",
    ["src", "demo", "scripts", "package-lock.json", "next.config.ts", "-newermt", new Date(built).toISOString(), "-type", "f"],
    { encoding: "utf8" },
  );
  if (built > 0 && existsSync("dist/engine.mjs") && sources.trim() === "") return;
  say("Building…");
  await run("node", ["scripts/build.mjs"]);
}
