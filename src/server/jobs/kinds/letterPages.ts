import type { Page } from "@/core/report/page";
import type { Run } from "@/server/engine/protocol";
import { letterPages } from "@/server/jobs/letters/run";
import type { LetterJob } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    letterPages: {
      asks: { database: string; letter: LetterJob; at: number };
      gives: { pages: Page[]; count: number; name: string; empty: string[]; notes: string[] };
    };
  }
}

export const run: Run<"letterPages"> = (job) => letterPages(connection(job.database), job.letter, job.at);
