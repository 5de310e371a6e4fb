import type { Run } from "@/server/engine/protocol";
import { writeLetters } from "@/server/jobs/letters/run";
import type { FileResult, LetterFile, LetterJob } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    letterFile: { asks: { database: string; letter: LetterJob; file: LetterFile }; gives: FileResult & { pages: number } };
  }
}

export const run: Run<"letterFile"> = (job) => writeLetters(connection(job.database), job.letter, job.file);
