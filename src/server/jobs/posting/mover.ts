import { coerce, type Stored } from "@/core/posting/coerce";
import type { OutcomeRow } from "@/core/posting/outcome";
import type { PlanOrigin } from "@/core/posting/plan";
import type { Cell } from "@/core/types/valueType";
import type { Connection } from "@/server/source/connection";
import { LinkChecks } from "./linkChecks";
import { encodeImage, type Image, type RowName, Target } from "./target";

/** A row of the table that is left, and the row of the source with which it has left already. */
export type Leaving = { found: { row: RowName; image: Image } | null; before: number | null };

/** The table that rows are moved from: a row leaves it only if it has arrived elsewhere, and the other way about. */
export class Mover {
  private readonly target: Target;
  private readonly links: LinkChecks;
  /** The rows that have left, by the source's row that they left with. */
  private readonly gone = new Map<string, number>();

  constructor(
    private readonly db: Connection,
    private readonly origin: PlanOrigin,
    breaks: boolean,
  ) {
    this.target = new Target(db, origin.table);
    this.links = new LinkChecks(db, breaks ? { outward: [], inward: [] } : origin.links, { name: origin.table.name, columns: this.target.columns });
  }

  count(): number {
    return this.target.count();
  }

  find(cells: Cell[]): Leaving {
    const values = this.origin.key.map(({ column, at, from }): Stored => {
      const made = coerce(cells[at] ?? null, from, column, "ymd");
      return "stored" in made ? made.stored : null;
    });
    const columns = this.origin.key.map((k) => k.column);
    const [found = null] = values.includes(null) ? [] : this.target.findBy(columns, values);
    return { found, before: this.gone.get(encodeImage(values)) ?? null };
  }

  /** Removes a row. @returns why it cannot go; null where it has gone */
  remove({ row, image }: { row: RowName; image: Image }, n: number): string | null {
    const why = this.links.inward(image);
    if (why) return why;
    this.target.remove(row);
    this.gone.set(encodeImage(this.origin.key.map(({ column }) => image[this.target.columns.findIndex((c) => c.name === column.name)] ?? null)), n);
    return null;
  }

  /** Does what adds and removes a row; where it is not to be kept, neither is done. */
  orNeither(work: () => OutcomeRow): OutcomeRow {
    this.db.exec("SAVEPOINT move");
    const row = work();
    this.db.exec(row.outcome === "move" ? "RELEASE move" : "ROLLBACK TO move; RELEASE move");
    return row;
  }
}
