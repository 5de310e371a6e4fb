import { getting } from "@/server/http/handle";
import { findItems } from "@/server/services/find/items";

/** Everything that can be found by its name. */
export const GET = getting("viewer", async ({ ws }) => Response.json(await findItems(ws)));
