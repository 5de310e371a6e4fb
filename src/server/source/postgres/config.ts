import { readFileSync } from "node:fs";
import type { ClientConfig } from "pg";
import type { ServerAddress } from "./address";

/** How long a server may take to take a connection. */
const CONNECT_MS = 10_000;

/**
 * What the driver is told of a server. The password, where there is one, it finds in the environment (PGPASSWORD) or in
 * ~/.pgpass; it stands nowhere else.
 * @param encrypted whether the connection is; undefined: as the address says
 */
export function configOf({ user, host, port, database, sslMode, sslRootCert }: ServerAddress, encrypted = sslMode !== "disable"): ClientConfig {
  const trusted = sslRootCert === undefined ? {} : { ca: certificates(sslRootCert) };
  const checked = sslMode === "verify-ca" || sslMode === "verify-full";
  return {
    host,
    port,
    database,
    ...(user === undefined ? {} : { user }),
    ssl: encrypted ? { ...trusted, rejectUnauthorized: checked, ...(sslMode === "verify-ca" ? { checkServerIdentity: () => undefined } : {}) } : false,
    connectionTimeoutMillis: CONNECT_MS,
    keepAlive: true,
    application_name: "Next Ledger",
    // Everything comes as the server writes it: it is read by the plan's types.
    types: { getTypeParser: () => (value: unknown) => value },
  } as ClientConfig;
}

function certificates(path: string): string {
  try {
    return readFileSync(path, "utf8");
  } catch (error) {
    throw new Error(`The certificate file of sslrootcert cannot be read: ${(error as Error).message}`);
  }
}

/** Whether a server that was asked for an encrypted connection has none, where it is not insisted on. */
export const goesOnPlain = ({ sslMode }: ServerAddress, error: unknown): boolean =>
  sslMode === "prefer" && /does not support SSL/.test(error instanceof Error ? error.message : "");
