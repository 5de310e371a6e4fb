import { readFileSync, renameSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Schema } from "@/core/schema/schema";
import { versionOf } from "@/server/source/sqlite/version";

/*
 * The shape of the database as it was read last, kept beside the version of the file it was read of: what was looked at
 * value by value is not looked at again at the next start.
 */

type Kept = { at: string; schema: Schema };

export class KeptShape {
  private readonly path: string;

  /** @param engine the program that reads the shape; another one reads it anew */
  constructor(
    folder: string,
    private readonly database: string,
    private readonly engine: string,
  ) {
    this.path = join(folder, "shape.json");
  }

  /** What tells this reading from any other; null where the file's version cannot be told. @param made what people told of its columns and links */
  private at(made: string): string | null {
    const version = versionOf(this.database);
    const program = statSync(this.engine, { throwIfNoEntry: false });
    return version === null || !program ? null : JSON.stringify([this.database, version, program.mtimeMs, program.size, made]);
  }

  read(made: string): Schema | null {
    try {
      const { at, schema } = JSON.parse(readFileSync(this.path, "utf8")) as Kept;
      return at === this.at(made) ? schema : null;
    } catch {
      // None yet, or cut short: it is read from the database.
      return null;
    }
  }

  /** Keeps what a reading comes to, where the file is the same after it as before. */
  async reading(made: string, read: () => Promise<Schema>): Promise<Schema> {
    const at = this.at(made);
    const schema = await read();
    // What could not be read is tried again.
    if (at !== null && at === this.at(made) && !schema.broken?.length) this.keep({ at, schema });
    return schema;
  }

  private keep(kept: Kept): void {
    try {
      writeFileSync(`${this.path}.part`, JSON.stringify(kept));
      renameSync(`${this.path}.part`, this.path);
    } catch {
      // Without room it is read again at the next start.
    }
  }
}
