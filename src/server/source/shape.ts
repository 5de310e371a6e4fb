import type { Schema } from "@/core/schema/schema";
import type { ColumnSetting, MadeLink } from "@/core/schema/told";
import { isServer } from "./postgres/address";
import { inspectDatabase, type Viewing } from "./sqlite/inspect";
import { connection, inSnapshot } from "./sqlite/readers";

/** Reads the shape of a database, whichever it is, of one moment. @param viewing what is told of views whose rows are read for it */
export async function shapeOf(database: string, settings: ColumnSetting[], made: MadeLink[], viewing: Viewing): Promise<Schema> {
  if (isServer(database)) return (await import("./postgres/session")).sessionOf(database).inspect(settings, made);
  const db = connection(database);
  return inSnapshot(db, () => inspectDatabase(db, settings, made, viewing));
}
