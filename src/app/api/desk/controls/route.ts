import { answerTo } from "@/server/http/answers";
import { getting } from "@/server/http/handle";

/** The control totals of one's queries against what they show now. */
export const GET = getting("analyst", async ({ ws, caller }) => Response.json(await answerTo(ws, "/api/desk/controls", {}, caller)));
