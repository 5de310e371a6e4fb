import { type Settings, settingsSchema } from "@/core/settings/spec";
import type { Workspace } from "./workspace";

const paperSchema = settingsSchema.shape.paper;

/** The settings of the workspace, with the usual where nothing was set. */
export const settingsOf = (ws: Workspace): Settings => ({
  company: ws.company,
  locale: ws.locale.locale,
  zone: ws.locale.zone,
  paper: paperSchema.safeParse(ws.catalogue.setting("paper")).data ?? "A4",
});

/** Keeps the settings, with a line in the log. */
export function saveSettings(ws: Workspace, { company, locale, zone, paper }: Settings): void {
  ws.recorded(() => {
    ws.catalogue.setSetting("company", company);
    ws.catalogue.setSetting("locale", { locale, zone });
    ws.catalogue.setSetting("paper", paper);
    ws.record("changed the settings", company);
  });
}
