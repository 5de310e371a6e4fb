import { z } from "zod";
import { COLOUR_COUNT } from "@/core/chart/colours";
import { posting } from "@/server/http/handle";
import { chooseColour } from "@/server/services/charts/service";

const shape = z.object({
  key: z.string().min(1).max(2000),
  place: z
    .number()
    .int()
    .min(0)
    .max(COLOUR_COUNT - 1)
    .nullable(),
});

/** Chooses the colour of a value in every chart; null lets it go. */
export const POST = posting("analyst", shape, ({ key, place }, { ws }) => Response.json(chooseColour(ws, key, place)));
