import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

const alias = { "@": fileURLToPath(new URL("./src", import.meta.url)) };
/** No test depends on speed: only one that would never end is given up. */
const NEVER_MS = 900_000;
const project = (name: string, include: string[], more: object = {}) => ({
  resolve: { alias },
  test: { name, include, environment: "node" as const, testTimeout: NEVER_MS, hookTimeout: NEVER_MS, ...more },
});

/** Files that are short to read and long to run: by their size they would begin last, and keep one worker busy alone. */
const LONG = /reference\/(nested|recount|rules)\.test\.ts$|e2e\/(hands|killed)\.test\.ts$/;
class LongFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files);
    const isLong = (file: TestSpecification) => LONG.test(file.moduleId);
    return [...sorted.filter(isLong), ...sorted.filter((f) => !isLong(f))];
  }
}

export default defineConfig({
  test: {
    // Browser suites stand side by side with the others: each has a server, a folder and a browser of its own.
    sequence: { sequencer: LongFirst },
    maxWorkers: Math.max(2, availableParallelism()),
    projects: [
      project("unit", ["src/**/*.test.ts", "demo/**/*.test.ts"], { isolate: false }),
      project("reference", ["test/reference/**/*.test.ts"]),
      project("end-to-end", ["test/e2e/**/*.test.ts"]),
    ],
  },
});
