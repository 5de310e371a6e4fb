import { type Connection, isOnServer } from "./connection";

const IN_FILE = "SELECT name FROM sqlite_schema WHERE type = 'trigger' AND lower(tbl_name) = lower(?) ORDER BY name LIMIT 1";
const ON_SERVER = "SELECT tgname::text FROM pg_trigger WHERE tgrelid = to_regclass(?) AND NOT tgisinternal ORDER BY tgname LIMIT 1";

/** The name of a trigger on a table; null where it has none. */
export const triggerOn = (db: Connection, table: string): string | null =>
  ((isOnServer(db) ? db.prepare(ON_SERVER).pluck().get(db.dialect?.table(table)) : db.prepare(IN_FILE).pluck().get(table)) as string | null | undefined) ??
  null;
