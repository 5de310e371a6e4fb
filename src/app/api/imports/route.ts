import { Refusal } from "@/server/common/refusal";
import { FOREIGN_WORDS, isForeign } from "@/server/http/foreign";
import { getting } from "@/server/http/handle";
import { keepFile, sentSchema } from "@/server/services/import/service";

/** A file as it comes: its name, length and digest in the address, its bytes in the body, which the proxy does not touch. */
export const POST = getting("analyst", async ({ ws, request }) => {
  if (isForeign(request.headers)) throw new Refusal(403, FOREIGN_WORDS);
  const sent = sentSchema.parse(Object.fromEntries(new URL(request.url).searchParams));
  return Response.json(await keepFile(ws, sent, request.body));
});
