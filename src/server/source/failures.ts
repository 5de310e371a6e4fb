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
  | "copyRenewed"
  | "fileGone"
  | "fileRefused"
  | "importRefused"
  | "shapeRefused"
  | "noServer"
  | "noServerDatabase"
  | "serverDisk"
  | "serverEncoding"
  | "serverFull"
  | "serverGone"
  | "serverPassword"
  | "serverShape"
  | "serverRights"
  | "serverStopped"
  | "serverTls"
  | "shapeMoved";

export class JobFailure extends Error {
  constructor(
    readonly code: FailureCode,
    readonly particulars = "",
  ) {
    super(failureWords(code, particulars));
    this.name = "JobFailure";
  }
}

/** Known by its name: what bundles the server has this class in it more than once. */
export const isJobFailure = (error: unknown): error is JobFailure => error instanceof Error && error.name === "JobFailure";

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
  copyRenewed: "The tables were copied again meanwhile. Refresh to see the figures as of that time.",
  fileGone: "This file is no longer stored. Import it again.",
  fileRefused: "The file could not be read.",
  importRefused: "Nothing was imported.",
  shapeRefused: "The table was not changed.",
  noEngine: "The engine could not start, so no data can be read. Check the server log for the reason, then restart.",
  noServer: "The database server does not answer. Check that it is running and that this computer can reach it, then try again.",
  noServerDatabase: "The server has no database of this name. Check the address that Next Ledger was started with.",
  serverDisk: "The disk of the database server is full. Nothing was written. Free some space there, then run it again.",
  serverEncoding: "The database does not store its text as UTF-8, so it cannot be read.",
  serverFull: "The database server has no free connection. Close some there, or allow more (max_connections), then try again.",
  serverGone: "The connection to the database server was lost. Try again.",
  serverPassword: "The database server refused the user name or password. Check the address, PGPASSWORD or the file .pgpass, then restart.",
  serverShape: "Tables of a database server are made and changed on the server, not here. Nothing was changed.",
  serverRights: "The database server does not allow this user to read it. Ask its administrator for permission.",
  serverStopped: "The database server stopped this query, usually because of its time limit. Add a condition, or raise statement_timeout there.",
  serverTls: "No encrypted connection to the database server could be made. Check sslmode in the address.",
  shapeMoved: "A table or column does not exist any more. Reload the page to see the tables as they are now.",
  crashed: "The process stopped before it was done. Try again.",
};
