import { build } from "esbuild";

/** What runs outside Next.js: the engine's child process, and the programs of the scripts. */
export const ENTRIES = {
  engine: "src/server/jobs/worker.ts",
  columnar: "src/server/source/columnar/process.ts",
  "copy-thread": "src/server/source/columnar/thread.ts",
  postgres: "src/server/source/postgres/thread.ts",
  "check-server": "src/server/source/postgres/check.ts",
  "make-demo": "demo/make.ts",
};

export const bundle = (entries = ENTRIES, outdir = "dist") =>
  build({
    entryPoints: entries,
    outdir,
    outExtension: { ".js": ".mjs" },
    bundle: true,
    splitting: true,
    platform: "node",
    target: "node20",
    format: "esm",
    packages: "external",
    logLevel: "warning",
    tsconfig: "tsconfig.json",
  });
