import { getting } from "@/server/http/handle";

export const GET = getting("analyst", async ({ ws }) => Response.json(await ws.shownSchema()));
