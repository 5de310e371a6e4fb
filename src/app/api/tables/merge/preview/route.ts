import { posting } from "@/server/http/handle";
import { mergeShape } from "@/server/services/duplicates/mergeShape";
import { mergePreviewOf } from "@/server/services/duplicates/service";

/** What merging rows would come to. */
export const POST = posting("analyst", mergeShape, async (merge, { ws, caller }) => Response.json(await mergePreviewOf(ws, merge, caller)));
