import { readFileSync, renameSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { isSampled } from "@/core/schema/sampled";
import type { Schema } from "@/core/schema/schema";
import { versionOf } from "@/server/source/sqlite/version";

/*
 * The shape of the database as it was read last, kept beside the version of the file it was read of: what was looked at
 * value by value is not looked at again at the next start.
 */

type Kept = { version: string; how: string; schema: Schema };

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

  /** What tells how the file is read; null where that cannot be told. @param made what people told of its columns and links */
  private how(made: string): string | null {
    const program = statSync(this.engine, { throwIfNoEntry: false });
    return program ? JSON.stringify([this.database, program.mtimeMs, program.size, made]) : null;
  }

  private kept(): Kept | null {
    try {
      return JSON.parse(readFileSync(this.path, "utf8")) as Kept;
    } catch {
      // None yet, or cut short: it is read from the database.
      return null;
    }
  }

  /** The shape as it was read last; `isNow` where the file is as it was then. */
  read(made: string): { schema: Schema; isNow: boolean } | null {
    const kept = this.kept();
    return kept && kept.how === this.how(made) ? { schema: kept.schema, isNow: kept.version === versionOf(this.database) } : null;
  }

  /** Keeps what a reading comes to, where the file is the same after it as before. */
  async reading(made: string, read: () => Promise<Schema>): Promise<Schema> {
    const [version, how] = [versionOf(this.database), this.how(made)];
    const schema = await read();
    // What could not be read is tried again; what is from a sample is not all there is to know.
    const isWhole = !schema.broken?.length && !isSampled(schema);
    if (version !== null && how !== null && isWhole && version === versionOf(this.database)) this.keep({ version, how, schema });
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
