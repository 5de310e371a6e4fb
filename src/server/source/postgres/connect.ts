import pg from "pg";
import { parseAddress } from "./address";
import { configOf, goesOnPlain } from "./config";

/** How long a statement waits for what another holds. */
const LOCK_MS = 10_000;

/** What every connection is set to: values written the one way they are read here. */
const settings = (zone: string | undefined): [string, string][] => [
  ["DateStyle", "ISO, YMD"],
  ["IntervalStyle", "postgres"],
  ["extra_float_digits", "1"],
  ["bytea_output", "hex"],
  ["standard_conforming_strings", "on"],
  ["lock_timeout", String(LOCK_MS)],
  ...(zone === undefined ? [] : [["TimeZone", zone] as [string, string]]),
];

/** A query ends as soon as whoever asked it is gone, looked for every 100 ms: from PostgreSQL 14 on, and on some systems alone. */
const CHECKS_PEER = "SELECT set_config('client_connection_check_interval', '100', false)";

/** A connection to the server of an address, ready to be asked. */
export async function connectTo(written: string): Promise<pg.Client> {
  const address = parseAddress(written);
  const attempt = async (encrypted?: boolean) => {
    const client = new pg.Client(configOf(address, encrypted));
    // A connection that is lost is told by what is asked of it next.
    client.on("error", () => {});
    try {
      await client.connect();
      return client;
    } catch (error) {
      await client.end().catch(() => {});
      throw error;
    }
  };
  const client = await attempt().catch((error: unknown) => {
    if (goesOnPlain(address, error)) return attempt(false);
    throw error;
  });
  try {
    // The ledger's own tables are found by their names; those of the business are always named with their schema.
    await client.query("SELECT set_config('search_path', 'next_ledger, ' || current_setting('search_path'), false)");
    for (const [name, value] of settings(address.zone)) await client.query("SELECT set_config($1, $2, false)", [name, value]);
    // Without it, a query that is stopped goes on there until it has something to send.
    await client.query(CHECKS_PEER).catch(() => {});
    return client;
  } catch (error) {
    await client.end().catch(() => {});
    throw error;
  }
}
