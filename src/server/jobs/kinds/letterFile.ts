import type { Run } from "@/server/engine/protocol";
import { writeLetters } from "@/server/jobs/letters/run";
import type { FileResult, LetterFile, LetterJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    letterFile: { asks: { database: string; letter: LetterJob; file: LetterFile }; gives: FileResult & { pages: number } };
  }
}

export const run: Run<"letterFile"> = (job) => readingWithCopy(job.database, (r) => writeLetters(r, job.letter, job.file));
