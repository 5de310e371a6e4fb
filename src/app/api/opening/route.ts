import { getting } from "@/server/http/handle";

/** How far the opening of the database is; null where it is open. */
export const GET = getting("viewer", async ({ ws }) => Response.json({ share: await ws.opening() }));
