import { FAILURE_SENTENCES } from "@/server/source/failures";
import { parseAddress, plainAddress } from "./address";
import { connectTo } from "./connect";
import { faultOf } from "./faults";

/** A server that was reached: its address without the password, which goes by the environment; and how its folder is called. */
export type Reached = { address: string; password: string | undefined; name: string };

/**
 * Tries whether a database on a server can be opened. Built to dist/check-server.mjs, for the command that starts the ledger.
 * @throws Error with a sentence of what stands in the way
 */
export async function reachServer(written: string): Promise<Reached> {
  const { password, database } = parseAddress(written);
  const address = plainAddress(written);
  if (password !== undefined) process.env.PGPASSWORD = password;
  try {
    const client = await connectTo(address);
    await client.end();
  } catch (error) {
    const { code = "", message = "" } = error as { code?: string; message?: string };
    const fault = faultOf(code, message);
    throw new Error(`${FAILURE_SENTENCES[fault.code]}${fault.particulars ? ` (${fault.particulars})` : ""}`);
  }
  return { address, password, name: database };
}
