import type { OutcomeRow } from "@/core/posting/outcome";
import type { FileDatabase, FileStatement } from "@/server/source/sqlite/database";
import { openReader } from "@/server/source/sqlite/readers";
import { abandonStage, openStage } from "@/server/source/sqlite/writers";

/** Rows that are kept together: one by one they would take as long to keep as the posting takes to make. */
const ROWS_A_PART = 200;

type Part = { step: number; counts: string; rows: string };

/** Keeps the outcome of every row of a preview in a file, so that it can be looked at a page at a time. */
export class PreviewWriter {
  private readonly db: FileDatabase;
  private readonly insert: FileStatement;
  private step = 0;
  private lines: string[] = [];
  private counts: Record<string, number> = {};

  constructor(private readonly path: string) {
    this.db = openStage(path);
    try {
      this.db.exec("CREATE TABLE part (n INTEGER PRIMARY KEY, step INTEGER NOT NULL, counts TEXT NOT NULL, rows TEXT NOT NULL); BEGIN");
    } catch (error) {
      this.abandon();
      throw error;
    }
    this.insert = this.db.prepare("INSERT INTO part (step, counts, rows) VALUES (?, ?, ?)");
  }

  /** Takes the rows of one step. */
  readonly emitIn =
    (step: number) =>
    (row: { outcome: string }, line = JSON.stringify(row)): void => {
      if (step !== this.step || this.lines.length === ROWS_A_PART) this.keep();
      this.step = step;
      this.lines.push(line);
      this.counts[row.outcome] = (this.counts[row.outcome] ?? 0) + 1;
    };

  private keep(): void {
    if (this.lines.length > 0) this.insert.run(this.step, JSON.stringify(this.counts), `[${this.lines.join(",")}]`);
    this.lines = [];
    this.counts = {};
  }

  finish(): void {
    this.keep();
    this.db.exec("COMMIT");
    this.db.close();
  }

  /** Keeps nothing of it. */
  abandon(): void {
    abandonStage(this.db, this.path);
  }
}

/** Every row of a preview in its order, with its step. */
export function* everyOutcome(path: string): Generator<{ step: number; row: OutcomeRow }> {
  const db = openReader(path);
  try {
    for (const { step, rows } of db.prepare("SELECT step, rows FROM part ORDER BY n").iterate() as Iterable<Part>)
      for (const row of JSON.parse(rows) as OutcomeRow[]) yield { step, row };
  } finally {
    db.close();
  }
}

/** Which rows of a preview are looked at: of one step, of some outcomes or of all; backwards where the last stand first. */
export type PreviewPage = { step: number; outcomes: string[]; offset: number; rows: number; backwards?: boolean };

/** A page of a preview's rows as a JSON list. */
export function previewRows(path: string, { step, outcomes, offset, rows, backwards = false }: PreviewPage): Buffer {
  const db = openReader(path);
  try {
    const found: { outcome: string }[] = [];
    let passed = 0;
    const parts = db.prepare(`SELECT counts, rows FROM part WHERE step = ? ORDER BY n ${backwards ? "DESC" : "ASC"}`);
    for (const part of parts.iterate(step) as Iterable<Part>) {
      const counts = JSON.parse(part.counts) as Record<string, number>;
      const matching = Object.entries(counts).reduce((sum, [outcome, n]) => sum + (outcomes.length === 0 || outcomes.includes(outcome) ? n : 0), 0);
      if (matching > 0 && passed + matching > offset) {
        const kept = (JSON.parse(part.rows) as { outcome: string }[]).filter((row) => outcomes.length === 0 || outcomes.includes(row.outcome));
        if (backwards) kept.reverse();
        found.push(...kept.slice(Math.max(0, offset - passed)));
      }
      passed += matching;
      if (found.length >= rows) break;
    }
    return Buffer.from(JSON.stringify(found.slice(0, rows)));
  } finally {
    db.close();
  }
}
