import type Database from "better-sqlite3";
import { withReader } from "@/server/source/sqlite/readers";
import { abandonStage, openStage } from "./stage";

/** Keeps the outcome of every row of a preview in a file, so that it can be looked at a page at a time. */
export class PreviewWriter {
  private readonly db: Database.Database;
  private readonly insert: Database.Statement;
  private n = 0;

  constructor(private readonly path: string) {
    this.db = openStage(path);
    try {
      this.db.exec("CREATE TABLE outcome (n INTEGER PRIMARY KEY, step INTEGER NOT NULL, outcome TEXT NOT NULL, row TEXT NOT NULL); BEGIN");
    } catch (error) {
      this.abandon();
      throw error;
    }
    this.insert = this.db.prepare("INSERT INTO outcome VALUES (?, ?, ?, ?)");
  }

  /** Takes the rows of one step. */
  readonly emitIn =
    (step: number) =>
    (row: { outcome: string }, line = JSON.stringify(row)): void => {
      this.insert.run(++this.n, step, row.outcome, line);
    };

  finish(): void {
    this.db.exec("CREATE INDEX outcome_kind ON outcome (step, outcome); COMMIT");
    this.db.close();
  }

  /** Keeps nothing of it. */
  abandon(): void {
    abandonStage(this.db, this.path);
  }
}

/** Which rows of a preview are looked at: of one step, of some outcomes or of all; backwards where the last stand first. */
export type PreviewPage = { step: number; outcomes: string[]; offset: number; rows: number; backwards?: boolean };

/** A page of a preview's rows as a JSON list. */
export function previewRows(path: string, { step, outcomes, offset, rows, backwards = false }: PreviewPage): Buffer {
  return withReader(path, (db) => {
    const where = outcomes.length === 0 ? "" : `AND outcome IN (${outcomes.map(() => "?").join(", ")})`;
    const found = db
      .prepare(`SELECT row FROM outcome WHERE step = ? ${where} ORDER BY n ${backwards ? "DESC" : "ASC"} LIMIT ? OFFSET ?`)
      .pluck()
      .all(step, ...outcomes, rows, offset);
    return Buffer.from(`[${found.join(",")}]`);
  });
}
