import type { Page } from "@/core/report/page";
import type { Run } from "@/server/engine/protocol";
import { letterPages } from "@/server/jobs/letters/run";
import type { LetterJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    letterPages: {
      asks: { database: string; letter: LetterJob; at: number };
      gives: { pages: Page[]; count: number; name: string; empty: string[]; notes: string[] };
    };
  }
}

export const run: Run<"letterPages"> = (job) => readingWithCopy(job.database, (r) => letterPages(r, job.letter, job.at));
