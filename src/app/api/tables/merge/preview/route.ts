import { mergeShape } from "@/server/duplicates/mergeShape";
import { mergePreviewOf } from "@/server/duplicates/service";
import { posting } from "@/server/http/handle";

/** What merging rows would come to. */
export const POST = posting("analyst", mergeShape, async (merge, { ws, caller }) => Response.json(await mergePreviewOf(ws, merge, caller)));
