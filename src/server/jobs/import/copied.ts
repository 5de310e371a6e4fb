import type { DoubledRule } from "@/core/import/choices";
import type { Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import type { Table } from "@/core/schema/schema";
import type { ValueType } from "@/core/types/valueType";
import { type Connection, tableSql } from "@/server/source/connection";
import { KeyNotes, type TakenRows } from "./keyed";

/** Rows that go to the server at once. */
const ROWS_AT_ONCE = 2_000;

/** A column that keeps the order of rows while they come, where the last of a key's is kept. */
const PLACE = "next ledger place";

/** How a type is declared on a server, so that it is read back as the same: whole and decimal numbers of up to 64 bits. */
function declared(type: ValueType): string {
  switch (type.kind) {
    case "decimal":
      return `numeric(19, ${type.scale})`;
    case "whole":
      return "bigint";
    case "floating":
      return "double precision";
    case "yesno":
      return "boolean";
    default:
      return type.kind;
  }
}

/**
 * Writes a file's rows into a table of a server, which it makes: by COPY, with its key set once they are there, and refused
 * as a file's (keyed.ts).
 */
export class CopiedRows implements TakenRows {
  private readonly notes = new KeyNotes();
  private readonly seen = new Set<string>();
  private readonly columns: string[];
  private readonly at: number;
  private readonly keepsLast: boolean;
  private waiting: unknown[][] = [];

  constructor(
    private readonly db: Connection,
    private readonly table: Table,
    private readonly by: { key: string | null; doubled: DoubledRule },
  ) {
    this.keepsLast = by.key !== null && by.doubled === "last";
    const own = table.columns.map((c) => `${quoted(c.name)} ${declared(c.type)}`);
    db.exec(`CREATE TABLE ${tableSql(db, table.name)} (${[...own, ...(this.keepsLast ? [`${quoted(PLACE)} bigint`] : [])].join(", ")})`);
    this.columns = [...table.columns.map((c) => c.name), ...(this.keepsLast ? [PLACE] : [])];
    this.at = by.key === null ? -1 : table.columns.findIndex((c) => c.name === by.key);
  }

  add(row: Stored[], n: number): boolean {
    const value = row[this.at] ?? null;
    if (this.at >= 0 && value === null) {
      this.notes.empty(n);
      return false;
    }
    const again = this.at >= 0 && this.seen.has(String(value));
    if (again && this.by.doubled === "refuse") this.notes.doubled(value, n);
    if (again && !this.keepsLast) return false;
    if (this.at >= 0) this.seen.add(String(value));
    this.waiting.push([...row, ...(this.keepsLast ? [n] : [])]);
    if (this.waiting.length >= ROWS_AT_ONCE) this.flush();
    return !again;
  }

  finish(): void {
    this.notes.settle(this.by.key);
    this.flush();
    const { key } = this.by;
    if (key === null) return;
    const [name, column] = [tableSql(this.db, this.table.name), quoted(key)];
    if (this.keepsLast) {
      this.db.exec(
        `DELETE FROM ${name} AS earlier USING ${name} AS later WHERE earlier.${column} = later.${column} AND earlier.${quoted(PLACE)} < later.${quoted(PLACE)}`,
      );
      this.db.exec(`ALTER TABLE ${name} DROP COLUMN ${quoted(PLACE)}`);
    }
    this.db.exec(`ALTER TABLE ${name} ADD PRIMARY KEY (${column})`);
  }

  private flush(): void {
    if (this.waiting.length > 0) this.db.copy?.(this.table.name, this.columns, this.waiting);
    this.waiting = [];
  }
}
