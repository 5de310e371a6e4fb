import { posting } from "@/server/http/handle";
import { keepFor, keepSchema } from "@/server/services/outbox/keep";

/** For how long the outbox keeps files. */
export const POST = posting("owner", keepSchema, ({ days }, { ws }) => {
  keepFor(ws, days);
  return Response.json({});
});
