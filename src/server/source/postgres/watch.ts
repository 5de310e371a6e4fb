import type pg from "pg";
import { inTurns } from "@/server/common/turns";
import { JobFailure } from "@/server/source/failures";
import type { Stamp } from "@/server/source/stamp";
import { connectTo } from "./connect";
import { faultOf, isLost } from "./faults";

/**
 * The state of a database and of its shape. Two snapshots that are the same see the same rows. Rows of the catalogs are
 * written anew by every change of a shape: what they count, and the youngest of them, is another then. Where rows lie on
 * other servers, their changes do not show here: each moment is another.
 */
const LASTING = "SELECT oid FROM pg_class WHERE relpersistence <> 't'";
/** The catalogs that tell a shape; of tables that last, as those of one connection come and go. */
const CATALOGS: [catalog: string, where: string][] = [
  ["pg_class", "relpersistence <> 't'"],
  ["pg_attribute", `attrelid IN (${LASTING})`],
  ["pg_constraint", `conrelid = 0 OR conrelid IN (${LASTING})`],
  ["pg_enum", "true"],
  ["pg_namespace", "nspname !~ '^pg_'"],
];

const STATE = `
SELECT pg_current_snapshot()::text || CASE WHEN EXISTS (SELECT FROM pg_class WHERE relkind = 'f') THEN ' ' || clock_timestamp()::text ELSE '' END,
  concat_ws(' ', ${CATALOGS.map(([catalog, where]) => `(SELECT COUNT(*) || ' ' || COALESCE(MAX(xmin::text::bigint), 0) FROM ${catalog} WHERE ${where})`).join(", ")})`;

/** Looks at a server's database over a connection of its own. */
export class ServerWatch {
  private client: Promise<pg.Client> | null = null;
  private readonly inTurn = inTurns();

  constructor(private readonly address: string) {}

  async stamp(): Promise<Stamp> {
    try {
      return await this.look();
    } catch (error) {
      const { code = "", message = "" } = error as { code?: string; message?: string };
      this.close();
      if (!isLost(code, message)) throw refused(code, message);
      // It was lost while nobody asked: it is made once more.
      return this.look().catch((again: { code?: string; message?: string }) => {
        this.close();
        throw refused(again.code ?? "", again.message ?? "");
      });
    }
  }

  close(): void {
    this.client?.then((client) => client.end()).catch(() => {});
    this.client = null;
  }

  private async look(): Promise<Stamp> {
    this.client ??= connectTo(this.address);
    const client = await this.client;
    const { rows } = await this.inTurn(() => client.query<[string, string]>({ text: STATE, rowMode: "array" }));
    const [data = "", shape = ""] = rows[0] ?? [];
    return { data, shape };
  }
}

function refused(code: string, message: string): JobFailure {
  const fault = faultOf(code, message);
  return new JobFailure(fault.code, fault.particulars);
}
