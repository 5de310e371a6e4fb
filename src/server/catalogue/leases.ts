import type Database from "better-sqlite3";
import { and, eq } from "drizzle-orm";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import { leases } from "./tables";
import { written } from "./written";

/** What one process at a time may do, over all that share a data folder. */
export class Leases {
  constructor(
    private readonly sqlite: Database.Database,
    private readonly db: BetterSQLite3Database,
    private readonly now: () => Date,
  ) {}

  /**
   * Takes or renews a lease. Only one owner holds it at a time; it passes to another when its time is up.
   * @returns the epoch, which changes with the owner; null where another holds it
   */
  take(name: string, owner: string, forMs: number): number | null {
    const now = this.now().getTime();
    const take = this.sqlite.prepare(
      `INSERT INTO lease (name, owner, epoch, until) VALUES (@name, @owner, 1, @until)
         ON CONFLICT (name) DO UPDATE SET epoch = CASE WHEN owner = @owner THEN epoch ELSE epoch + 1 END, owner = @owner, until = @until
         WHERE owner = @owner OR until < @now RETURNING epoch`,
    );
    const row = written(this.db, () => take.get({ name, owner, until: now + forMs, now })) as { epoch: number } | undefined;
    return row?.epoch ?? null;
  }

  /** Whether a lease is still held under an epoch; asked before anything is made final. */
  holds(name: string, epoch: number): boolean {
    return (
      this.db
        .select()
        .from(leases)
        .where(and(eq(leases.name, name), eq(leases.epoch, epoch)))
        .get() !== undefined
    );
  }

  release(name: string, owner: string): void {
    this.db
      .delete(leases)
      .where(and(eq(leases.name, name), eq(leases.owner, owner)))
      .run();
  }
}
