import { controlsNow } from "@/server/desk/controls";
import { getting } from "@/server/http/handle";

/** The control totals of one's queries against what they show now. */
export const GET = getting("analyst", async ({ ws, caller }) => Response.json(await controlsNow(ws, caller)));
