import type { Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import type { Column, Table } from "@/core/schema/schema";
import { type Connection, isOnServer, type Statement, tableSql } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";
import { triggerOn } from "@/server/source/triggers";

/** A row as it lies in the database: its values in the order of the table's columns. */
export type Image = (Stored | Uint8Array)[];

/** What tells a row from every other of its table, as the journal names it: its rowid, or the values of its key. */
export type RowName = string;

type Encoded = null | string | number | { i: string } | { r: string } | { b: string };

/** Values as JSON that gives back the very same: large integers, binary numbers and bytes are marked. */
export function encodeImage(image: Image): string {
  const [only] = image;
  // Most names of rows: one number.
  if (image.length === 1 && typeof only === "bigint" && Number.isSafeInteger(Number(only))) return `[${only}]`;
  return JSON.stringify(
    image.map((value): Encoded => {
      if (typeof value === "bigint") return Number.isSafeInteger(Number(value)) ? Number(value) : { i: value.toString() };
      if (typeof value === "number") return { r: String(value) };
      return value instanceof Uint8Array ? { b: Buffer.from(value).toString("base64") } : value;
    }),
  );
}

export function decodeImage(json: string): Image {
  return (JSON.parse(json) as Encoded[]).map((value) => {
    if (typeof value === "number") return BigInt(value);
    if (value === null || typeof value === "string") return value;
    if ("i" in value) return BigInt(value.i);
    return "r" in value ? Number(value.r) : Buffer.from(value.b, "base64");
  });
}

/** Lists one after the other; `flat` takes fifteen times as long. */
const joined = (lists: Stored[][]): Stored[] => ([] as Stored[]).concat(...lists);

/** The columns that can be written, in the order of a row's image. */
export const writtenColumns = (table: Table): Column[] => table.columns.filter((c) => !c.generated && !c.derived);

/** SQL names of what tells rows of a table apart, as the journal names them: its rowid where it has one, else its key. */
export function rowIdentity(db: Connection, table: Table): { names: string[]; byRowid: boolean } {
  if (isOnServer(db)) return { names: table.key.map(quoted), byRowid: false };
  const rowid = ["rowid", "_rowid_", "oid"].find((name) => !table.columns.some((c) => c.name.toLowerCase() === name)) ?? "rowid";
  try {
    db.prepare(`SELECT ${rowid} FROM ${quoted(table.name)} LIMIT 0`);
    return { names: [rowid], byRowid: true };
  } catch {
    return { names: table.key.map(quoted), byRowid: false };
  }
}

const NONE: Column[] = [];

/** Rows that are looked up, or added, by one statement: each costs its own way into the database else, which is longer to a server. */
const AT_ONCE = 25;
const AT_ONCE_ON_SERVER = 100;
/** A statement takes 32,766 bound values in SQLite (sqlite.org, "Implementation Limits") and 65,535 on a server (its protocol, "Bind"); from memory. */
const MOST_BOUND = 30_000;

/** One table being written: its rows by name. Each change is one statement; rows that are added are many of one, too. */
export class Target {
  readonly columns: Column[];
  /** SQL names of what tells rows apart. */
  private readonly identity: string[];
  private readonly byRowid: boolean;
  private readonly statements = new Map<string, Statement>();
  /** The same by the very list of columns that is asked with for every row. */
  private readonly ofList = new WeakMap<Column[], Map<string, Statement>>();
  /** The row of a name, all its columns; as SQL. */
  private readonly named: string;
  private readonly everything: string;
  /** The table, as SQL. */
  private readonly name: string;
  /** What is written is refused where a rule of the table (ON CONFLICT) would have other rows give way to it, or pass it over: neither could be taken back. */
  private readonly strictly: string;
  /** How many rows are written by one statement, where many are to be. */
  readonly atOnce: number;

  constructor(
    private readonly db: Connection,
    readonly table: Table,
  ) {
    this.columns = writtenColumns(table);
    const trigger = triggerOn(db, table.name);
    if (trigger !== null) throw new JobFailure("trigger", trigger);
    const { names, byRowid } = rowIdentity(db, table);
    this.byRowid = byRowid;
    this.identity = names;
    this.named = this.identity.map((i) => `${i} = ?`).join(" AND ");
    this.name = tableSql(db, table.name);
    this.strictly = isOnServer(db) ? "" : "OR ABORT ";
    this.atOnce = Math.min(isOnServer(db) ? AT_ONCE_ON_SERVER : AT_ONCE, Math.ceil(MOST_BOUND / (this.columns.length + 1)));
    this.everything = [...this.identity, ...this.columns.map((c) => quoted(c.name))].join(", ");
  }

  /** A statement kept for the life of the target: it is written once, however many rows use it. */
  private prepared(kind: string, columns: Column[], sql: () => string): Statement {
    const listed = this.ofList.get(columns) ?? new Map<string, Statement>();
    const asked = listed.get(kind);
    if (asked) return asked;
    const name = columns.length === 0 ? kind : `${kind} ${columns.map((c) => c.name).join("\u0000")}`;
    let made = this.statements.get(name);
    if (!made) {
      made = this.db.prepare(sql()).safeIntegers(true);
      if (made.reader) made.raw();
      this.statements.set(name, made);
    }
    this.ofList.set(columns, listed.set(kind, made));
    return made;
  }

  private read(row: unknown[] | undefined): { row: RowName; image: Image } | null {
    if (!row) return null;
    return { row: encodeImage(row.slice(0, this.identity.length) as Image), image: row.slice(this.identity.length) as Image };
  }

  /** The row of a name as it is now; null where it is gone. */
  find(row: RowName): Image | null {
    return this.read(this.finding().get(decodeImage(row)) as unknown[])?.image ?? null;
  }

  private finding(): Statement {
    return this.prepared("find", NONE, () => `SELECT ${this.everything} FROM ${this.name} WHERE ${this.named}`);
  }

  /** Up to two rows in which columns have values. */
  findBy(columns: Column[], values: Stored[]): { row: RowName; image: Image }[] {
    const where = () => columns.map((c) => `${quoted(c.name)} = ?`).join(" AND ");
    const find = this.prepared("find by", columns, () => `SELECT ${this.everything} FROM ${this.name} WHERE ${where()} LIMIT 2`);
    return (find.all(values) as unknown[][]).flatMap((row) => this.read(row) ?? []);
  }

  /** The same for many lists of values, each by itself: what is found for each of them. */
  findManyBy(columns: Column[], lists: Stored[][]): { row: RowName; image: Image }[][] {
    const found: { row: RowName; image: Image }[][] = lists.map(() => []);
    const where = () => columns.map((c) => `${quoted(c.name)} = ?`).join(" AND ");
    const one = (n: number) => `SELECT * FROM (SELECT ${n} AS asked, ${this.everything} FROM ${this.name} WHERE ${where()} LIMIT 2) AS found`;
    const { atOnce } = this;
    const together = lists.length - (lists.length % atOnce);
    for (let from = 0; from < together; from += atOnce) {
      const find = this.prepared("find many by", columns, () => Array.from({ length: atOnce }, (_, n) => one(n)).join(" UNION ALL "));
      for (const [asked, ...row] of find.all(joined(lists.slice(from, from + atOnce))) as unknown[][])
        found[from + Number(asked)]?.push(this.read(row) as { row: RowName; image: Image });
    }
    for (let n = together; n < lists.length; n++) found[n] = this.findBy(columns, lists[n] as Stored[]);
    return found;
  }

  /** All rows in which columns have values. */
  allBy(columns: Column[], values: Stored[]): { row: RowName; image: Image }[] {
    const where = () => columns.map((c) => `${quoted(c.name)} = ?`).join(" AND ");
    const find = this.prepared("all by", columns, () => `SELECT ${this.everything} FROM ${this.name} WHERE ${where()}`);
    return (find.all(values) as unknown[][]).flatMap((row) => this.read(row) ?? []);
  }

  /**
   * How finding rows by columns uses an index: `exact` where it is theirs alone, no two rows can have the same values, and
   * values that are written otherwise are others to it; null where it uses none.
   */
  indexOf(columns: Column[]): "exact" | "plain" | null {
    if (isOnServer(this.db)) return this.indexOnServer(columns.map((c) => c.name));
    const where = columns.map((c) => `${quoted(c.name)} = ?`).join(" AND ");
    const steps = this.db.prepare(`EXPLAIN QUERY PLAN SELECT * FROM ${this.name} WHERE ${where}`).all(columns.map(() => null)) as { detail: string }[];
    const used = steps.find((s) => s.detail.startsWith("SEARCH"))?.detail;
    if (used === undefined) return null;
    if (/ USING INTEGER PRIMARY KEY /.test(used)) return columns.length === 1 ? "exact" : "plain";
    const uniques = this.db.prepare('SELECT name FROM pragma_index_list(?) WHERE "unique" AND NOT partial').pluck().all(this.table.name) as string[];
    const index = uniques.find((name) => used.includes(` INDEX ${name} (`));
    // A column that is compared otherwise in the index is not looked up by it.
    if (index === undefined || used.split("=?").length - 1 !== columns.length) return "plain";
    const within = this.db
      .prepare("SELECT x.name, x.coll, t.type FROM pragma_index_xinfo(?) AS x LEFT JOIN pragma_table_info(?) AS t ON t.name = x.name WHERE x.key")
      .all(index, this.table.name) as { name: string | null; coll: string; type: string | null }[];
    const exact = ({ name, coll, type }: (typeof within)[number]): boolean => {
      const kind = columns.find((c) => c.name === name)?.type.kind;
      // Text in a column that takes numbers becomes one: "01" and "1" are the same there (sqlite.org, "Datatypes In SQLite" 3.1).
      return coll === "BINARY" && kind !== "floating" && (kind !== "text" || (/CHAR|CLOB|TEXT/i.test(type ?? "") && !/INT/i.test(type ?? "")));
    };
    return within.length === columns.length && within.every(exact) ? "exact" : "plain";
  }

  private indexOnServer(names: string[]): "exact" | "plain" | null {
    // An index serves by the column it begins with. What is written otherwise may be the same in other types, and in a collation of its own.
    const indexes = this.db
      .prepare(
        `SELECT (i.indisunique AND i.indimmediate AND i.indisvalid AND i.indexprs IS NULL
             AND bool_and(a.atttypid IN (16, 20, 21, 23, 25, 1043, 1082) AND i.indcollation[k.place - 1] = a.attcollation AND COALESCE(c.collisdeterministic, true)))::int AS exact,
           json_agg(a.attname::text ORDER BY k.place)::text AS columns
         FROM pg_index i CROSS JOIN unnest(i.indkey::int[]) WITH ORDINALITY AS k(number, place)
         LEFT JOIN pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = k.number LEFT JOIN pg_collation c ON c.oid = a.attcollation
         WHERE i.indrelid = to_regclass(?) AND i.indpred IS NULL AND k.place <= i.indnkeyatts GROUP BY i.indexrelid`,
      )
      .all(this.name) as { exact: number; columns: string }[];
    const serving = indexes.map(({ exact, columns }) => ({ exact: exact === 1, columns: JSON.parse(columns) as (string | null)[] }));
    if (serving.some(({ exact, columns }) => exact && columns.length === names.length && columns.every((name) => name !== null && names.includes(name))))
      return "exact";
    return serving.some(({ columns: [first] }) => first !== undefined && first !== null && names.includes(first)) ? "plain" : null;
  }

  /** All rows by the values of columns: for looking up many rows where no index helps. */
  *everyRow(columns: Column[]): Generator<{ row: RowName; values: Stored[] }> {
    const sql = `SELECT ${[...this.identity, ...columns.map((c) => quoted(c.name))].join(", ")} FROM ${this.name}`;
    for (const row of this.db.prepare(sql).raw().safeIntegers(true).iterate() as Iterable<unknown[]>)
      yield { row: encodeImage(row.slice(0, this.identity.length) as Image), values: row.slice(this.identity.length) as Stored[] };
  }

  /** @returns the new row as the database made it */
  insert(columns: Column[], values: Stored[]): { row: RowName; image: Image } {
    if (!this.byRowid) {
      const insert = this.prepared("insert", columns, () => `${this.insertion(columns)} RETURNING ${this.everything}`);
      return this.read(insert.get(values) as unknown[]) as { row: RowName; image: Image };
    }
    // SQLite's RETURNING takes longer than reading the row anew.
    const { lastInsertRowid } = this.prepared("add", columns, () => this.insertion(columns)).run(values);
    return this.read(this.finding().get(BigInt(lastInsertRowid)) as unknown[]) as { row: RowName; image: Image };
  }

  /** The same where nobody asks what came of it. */
  add(columns: Column[], values: Stored[]): void {
    this.prepared("add", columns, () => this.insertion(columns)).run(values);
  }

  /** Adds `atOnce` rows; all of them or, where one is refused, none. */
  addMany(columns: Column[], lists: Stored[][]): void {
    this.prepared("add many", columns, () => this.insertion(columns, this.atOnce)).run(joined(lists));
  }

  /** The same. @returns the new rows as the database made them */
  insertMany(columns: Column[], lists: Stored[][]): { row: RowName; image: Image }[] {
    const insert = this.prepared("insert many", columns, () => `${this.insertion(columns, this.atOnce)} RETURNING ${this.everything}`);
    return (insert.all(joined(lists)) as unknown[][]).flatMap((row) => this.read(row) ?? []);
  }

  private insertion(columns: Column[], rows = 1): string {
    if (columns.length === 0) return `INSERT ${this.strictly}INTO ${this.name} DEFAULT VALUES`;
    const places = Array(rows).fill(`(${columns.map(() => "?").join(", ")})`);
    return `INSERT ${this.strictly}INTO ${this.name} (${columns.map((c) => quoted(c.name)).join(", ")}) VALUES ${places.join(", ")}`;
  }

  /** @returns the row as it is afterwards; its name can have changed with its key */
  update(row: RowName, columns: Column[], values: Stored[]): { row: RowName; image: Image } {
    const set = () => columns.map((c) => `${quoted(c.name)} = ?`).join(", ");
    const update = this.prepared("update", columns, () => `UPDATE ${this.strictly}${this.name} SET ${set()} WHERE ${this.named} RETURNING ${this.everything}`);
    return this.read(update.get([...values, ...decodeImage(row)]) as unknown[]) as { row: RowName; image: Image };
  }

  /** The same where nobody asks what came of it. */
  write(row: RowName, columns: Column[], values: Stored[]): void {
    const set = () => columns.map((c) => `${quoted(c.name)} = ?`).join(", ");
    this.prepared("write", columns, () => `UPDATE ${this.strictly}${this.name} SET ${set()} WHERE ${this.named}`).run([...values, ...decodeImage(row)]);
  }

  remove(row: RowName): void {
    this.prepared("remove", NONE, () => `DELETE FROM ${this.name} WHERE ${this.named}`).run(decodeImage(row));
  }

  /** Puts a removed row back under the name it had. */
  restore(row: RowName, image: Image): void {
    const own = this.byRowid && !this.columns.some((c) => c.filled === "number") ? this.identity : [];
    const names = [...own, ...this.columns.map((c) => quoted(c.name))];
    // A number that a server gives by itself may be given back to it all the same.
    const given = isOnServer(this.db) ? "OVERRIDING SYSTEM VALUE " : "";
    const restore = this.prepared(
      "restore",
      NONE,
      () => `INSERT ${this.strictly}INTO ${this.name} (${names.join(", ")}) ${given}VALUES (${names.map(() => "?").join(", ")})`,
    );
    restore.run([...(own.length > 0 ? decodeImage(row) : []), ...image]);
  }

  /** Puts a row back as it was, whole: what differs is written. */
  put(row: RowName, image: Image): RowName {
    const now = this.find(row) ?? [];
    const differing = this.columns.flatMap((c, i) =>
      encodeImage([now[i] ?? null]) === encodeImage([image[i] ?? null]) ? [] : [{ column: c, value: image[i] as Stored }],
    );
    if (differing.length === 0) return row;
    return this.update(
      row,
      differing.map((d) => d.column),
      differing.map((d) => d.value),
    ).row;
  }

  count(): number {
    return Number(this.db.prepare(`SELECT COUNT(*) FROM ${this.name}`).pluck().get());
  }

  /** The last number SQLite gave where numbers are never given twice; null elsewhere. */
  sequence(): string | null {
    // A server's sequences go on, whatever becomes of the numbers they gave.
    if (isOnServer(this.db)) return null;
    if (!this.db.prepare("SELECT 1 FROM sqlite_schema WHERE name = 'sqlite_sequence'").get()) return null;
    const at = this.db.prepare("SELECT seq FROM sqlite_sequence WHERE name = ?").pluck().safeIntegers(true).get(this.table.name);
    return at === undefined ? null : String(at);
  }

  setSequence(to: string | null): void {
    if (to === null) this.db.prepare("DELETE FROM sqlite_sequence WHERE name = ?").run(this.table.name);
    else this.db.prepare("UPDATE sqlite_sequence SET seq = ? WHERE name = ?").run(BigInt(to), this.table.name);
  }
}
