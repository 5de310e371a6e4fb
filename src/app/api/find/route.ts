import { findItems } from "@/server/find/items";
import { getting } from "@/server/http/handle";

/** Everything that can be found by its name. */
export const GET = getting("viewer", async ({ ws }) => Response.json(await findItems(ws)));
