import { settingsSchema } from "@/core/settings/spec";
import { posting } from "@/server/http/handle";
import { saveSettings } from "@/server/services/workspace/settings";

/** Keeps the workspace's settings. */
export const POST = posting("owner", settingsSchema, (settings, { ws }) => {
  saveSettings(ws, settings);
  return Response.json({});
});
