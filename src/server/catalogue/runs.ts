import { randomUUID } from "node:crypto";
import { and, asc, desc, eq, gte, inArray, isNotNull } from "drizzle-orm";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import { runItems, runs } from "./tables";
import { written } from "./written";

export type Run = typeof runs.$inferSelect;
export type RunItem = typeof runItems.$inferSelect;

/** The runs of schedules, and what each of them makes one after the other. */
export class Runs {
  constructor(
    private readonly db: BetterSQLite3Database,
    private readonly now: () => Date,
  ) {}

  all(limit = 200): Run[] {
    return this.db.select().from(runs).orderBy(desc(runs.startedAt)).limit(limit).all();
  }

  /** The runs that were due at an instant or after it. */
  since(from: Date): Run[] {
    return this.db.select().from(runs).where(gte(runs.dueAt, from)).all();
  }

  /** All runs that made files. */
  withFiles(): Run[] {
    return this.db.select().from(runs).where(isNotNull(runs.files)).all();
  }

  of(schedule: string, limit = 50): Run[] {
    return this.db.select().from(runs).where(eq(runs.schedule, schedule)).orderBy(desc(runs.dueAt)).limit(limit).all();
  }

  /** Claims a due time of a schedule; undefined where it has been claimed before. One made by hand waits for the lease's holder. */
  claim(run: Pick<Run, "schedule" | "dueAt" | "late" | "manual">): Run | undefined {
    return written(this.db, () =>
      this.db
        .insert(runs)
        .values({ ...run, id: randomUUID(), startedAt: this.now(), state: run.manual ? "queued" : "running", attempt: 0 })
        .onConflictDoNothing()
        .returning()
        .get(),
    );
  }

  update(id: string, change: Partial<Run>): void {
    this.db.update(runs).set(change).where(eq(runs.id, id)).run();
  }

  /** What a run makes one after the other, in order; none where it makes one thing, or has not begun. */
  items(run: string): RunItem[] {
    return this.db.select().from(runItems).where(eq(runItems.run, run)).orderBy(asc(runItems.place)).all();
  }

  /** Sets down what a run makes one after the other: all of it, or nothing. */
  addItems(run: string, items: RunItem["item"][]): void {
    written(this.db, () =>
      this.db.transaction((tx) => {
        items.forEach((item, place) => {
          tx.insert(runItems).values({ run, place, item, state: "waiting" }).run();
        });
      }),
    );
  }

  updateItem({ run, place }: Pick<RunItem, "run" | "place">, change: Partial<Omit<RunItem, "run" | "place">>): void {
    this.db
      .update(runItems)
      .set(change)
      .where(and(eq(runItems.run, run), eq(runItems.place, place)))
      .run();
  }

  /** Runs asked for and not finished: waiting ones, and those that a killed process left. */
  unfinished(): Run[] {
    return this.db
      .select()
      .from(runs)
      .where(inArray(runs.state, ["queued", "running"]))
      .orderBy(asc(runs.dueAt))
      .all();
  }

  /** The last time a schedule was due and dealt with, runs made by hand apart. */
  lastDue(schedule: string): Date | undefined {
    return this.db
      .select()
      .from(runs)
      .where(and(eq(runs.schedule, schedule), eq(runs.manual, false)))
      .orderBy(desc(runs.dueAt))
      .limit(1)
      .get()?.dueAt;
  }
}
