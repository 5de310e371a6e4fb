import { z } from "zod";
import type { Workspace } from "@/server/services/workspace/workspace";

const MAP = "map of tables";
const coordinate = z.number().min(-100_000).max(100_000);

/** Where tables stand on the map, by their names: those that a person moved. */
export const mapSchema = z.record(z.string().max(300), z.object({ x: coordinate, y: coordinate }));
type Places = z.infer<typeof mapSchema>;

const viewer = (ws: Workspace): string => ws.signedIn?.id ?? "";

export const mapOf = (ws: Workspace): Places => mapSchema.safeParse(ws.catalogue.viewerState(viewer(ws), MAP)).data ?? {};

export const keepMap = (ws: Workspace, places: Places): void => ws.catalogue.setViewerState(viewer(ws), MAP, places);
