import { z } from "zod";
import { parameterValuesSchema } from "@/core/query/spec";
import { posting } from "@/server/http/handle";
import { keepValues } from "@/server/services/queries/lastValues";

const shape = z.object({ query: z.string().max(60), values: parameterValuesSchema });

/** Keeps what a person gave for the parameters of a saved query, for them alone. */
export const POST = posting("analyst", shape, ({ query, values }, { ws, request }) => {
  keepValues(ws, request.headers, query, values);
  return Response.json({});
});
