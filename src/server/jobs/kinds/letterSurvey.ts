import type { Run } from "@/server/engine/protocol";
import { type LetterSurvey, surveyLetters } from "@/server/jobs/letters/run";
import type { LetterJob } from "@/server/jobs/work";
import { connection } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    letterSurvey: { asks: { database: string; letter: LetterJob }; gives: LetterSurvey };
  }
}

export const run: Run<"letterSurvey"> = (job) => surveyLetters(connection(job.database), job.letter);
