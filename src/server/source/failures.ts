/** Why a job failed, in a word the server turns into a sentence. */
export type FailureCode =
  | "notFound"
  | "notDatabase"
  | "locked"
  | "occupied"
  | "readOnly"
  | "tooLarge"
  | "tooMuchText"
  | "tooManyGroups"
  | "diskFull"
  | "timeout"
  | "stopped"
  | "sql"
  | "crashed"
  | "noEngine"
  | "refusedEdit"
  | "editClash"
  | "trigger"
  | "noEntry"
  | "reversedBefore"
  | "columnsChanged"
  | "changedSince"
  | "controlled"
  | "postedTwice"
  | "fileGone"
  | "fileRefused"
  | "importRefused"
  | "shapeRefused";

export class JobFailure extends Error {
  constructor(
    readonly code: FailureCode,
    readonly particulars = "",
  ) {
    super(failureWords(code, particulars));
    this.name = "JobFailure";
  }
}

const SAID_BEHIND: FailureCode[] = ["refusedEdit", "fileRefused", "importRefused", "shapeRefused"];

/** What is wrong with a value or a file is the sentence; elsewhere particulars stand behind it. */
function failureWords(code: FailureCode, particulars: string): string {
  const words = FAILURE_SENTENCES[code];
  if (particulars === "") return words;
  if (code === "editClash") return particulars === "" ? words : words.replace(" it", ` it to “${particulars}”`);
  return SAID_BEHIND.includes(code) ? `${words.replace(/\.$/, "")}: ${particulars}.` : `${words} (${particulars})`;
}

export const FAILURE_SENTENCES: Record<FailureCode, string> = {
  notFound: "The database file is missing. Restore it, or start with another file.",
  notDatabase: "The file is not a SQLite database. Choose another file.",
  locked: "Another program has locked the database. Close it there, then try again.",
  occupied: "Another change to this database is still running. Try again in a moment.",
  readOnly: "The server has no permission to write the database file. Give it write access to the file and its folder, then try again.",
  tooLarge: "A number, total or product has more than 18 digits. It was not rounded. Use fewer rows or fewer decimal places.",
  tooMuchText: "These rows have more text than can be shown at once. Remove the column with the longest texts, or export the rows.",
  tooManyGroups: "There would be more than 100,000 groups without rows. Group by a longer period or wider bands, or show only groups with rows.",
  diskFull: "The disk is full or its quota is reached. Nothing was written. Free some space, then run it again.",
  timeout: "It took longer than the time limit and was stopped. Add a condition, or export it with a schedule.",
  stopped: "Stopped.",
  sql: "The database could not run this.",
  refusedEdit: "It was not changed.",
  editClash: "Somebody else changed it meanwhile. Press Enter to overwrite it, or Escape to keep theirs.",
  trigger: "A trigger of this table changes more than the journal could reverse, so it cannot be changed here.",
  noEntry: "The journal has no such entry, or its table does not exist any more.",
  reversedBefore: "This posting was already reversed, by the entry named here.",
  columnsChanged: "The columns of the table have changed since, so this posting cannot be reversed.",
  controlled: "The posting does not agree with its control totals. Nothing was posted. Check the proof.",
  postedTwice: "The very same rows were posted before. Nothing was posted.",
  changedSince: "The rows have changed since the preview. Nothing was posted. Check the new preview, then post again.",
  fileGone: "This file is no longer stored. Import it again.",
  fileRefused: "The file could not be read.",
  importRefused: "Nothing was imported.",
  shapeRefused: "The table was not changed.",
  noEngine: "The engine could not start, so no data can be read. Check the server log for the reason, then restart.",
  crashed: "The process stopped before it was done. Try again.",
};
