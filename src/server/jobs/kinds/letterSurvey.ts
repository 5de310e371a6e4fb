import type { Run } from "@/server/engine/protocol";
import { type LetterSurvey, surveyLetters } from "@/server/jobs/letters/run";
import type { LetterJob } from "@/server/jobs/work";
import { readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    letterSurvey: { asks: { database: string; letter: LetterJob }; gives: LetterSurvey };
  }
}

export const run: Run<"letterSurvey"> = (job) => readingWithCopy(job.database, (r) => surveyLetters(r, job.letter));
