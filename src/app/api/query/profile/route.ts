import { posting } from "@/server/http/handle";
import { profileOf, profileSchema } from "@/server/services/queries/profile";

export const POST = posting("analyst", profileSchema, async (question, { ws, caller }) => Response.json(await profileOf(ws, question, caller)));
