import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const alias = { "@": fileURLToPath(new URL("./src", import.meta.url)) };
/** No test depends on speed: only one that would never end is given up. */
const NEVER_MS = 900_000;
const project = (name: string, include: string[], more: object = {}) => ({
  resolve: { alias },
  test: { name, include, environment: "node" as const, testTimeout: NEVER_MS, hookTimeout: NEVER_MS, ...more },
});

export default defineConfig({
  test: {
    // Browser suites stand side by side with the others: each has a server, a folder and a browser of its own.
    maxWorkers: Math.max(2, availableParallelism()),
    projects: [
      project("unit", ["src/**/*.test.ts", "demo/**/*.test.ts"], { isolate: false }),
      project("reference", ["test/reference/**/*.test.ts"]),
      project("end-to-end", ["test/e2e/**/*.test.ts"]),
    ],
  },
});
