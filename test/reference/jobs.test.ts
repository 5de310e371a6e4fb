import { readdirSync } from "node:fs";
import { expect, it } from "vitest";
import type { JobFile } from "@/server/engine/protocol";

/* The kinds of job, as their files tell of them. */

it("others wait for jobs that read the shape or hold the database for writing, and for no other", async () => {
  const [holds, others]: [string[], string[]] = [[], []];
  for (const name of readdirSync("src/server/jobs/kinds")) {
    const kind = name.replace(".ts", "");
    const file = (await import(`../../src/server/jobs/kinds/${kind}.ts`)) as JobFile;
    (file.holdsUpOthers ? holds : others).push(kind);
  }
  expect(holds).toEqual(expect.arrayContaining(["inspect", "post", "reverse", "edit", "postingPreview", "reversalPreview", "importFile", "shape", "merge"]));
  expect(others).toEqual(expect.arrayContaining(["rows", "singles", "proof", "pivot", "export", "reportFile"]));
});
