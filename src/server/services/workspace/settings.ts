import { createHash } from "node:crypto";
import { type Settings, settingsSchema } from "@/core/settings/spec";
import type { Workspace } from "./workspace";

const { paper: paperSchema, currency: currencySchema, logo: logoSchema } = settingsSchema.shape;

/** The currency new amounts are in. */
export const currencyOf = (ws: Workspace): string => currencySchema.safeParse(ws.catalogue.setting("currency")).data ?? "EUR";

/** The settings of the workspace, with the usual where nothing was set. */
export const settingsOf = (ws: Workspace): Settings => ({
  company: ws.company,
  logo: logoSchema.safeParse(ws.catalogue.setting("logo")).data ?? null,
  locale: ws.locale.locale,
  zone: ws.locale.zone,
  currency: currencyOf(ws),
  calendar: ws.calendar,
  paper: paperSchema.safeParse(ws.catalogue.setting("paper")).data ?? "A4",
});

/** Keeps the settings, with a line in the log. */
export function saveSettings(ws: Workspace, { locale, zone, calendar, ...settings }: Settings): void {
  ws.recorded(() => {
    for (const [name, value] of Object.entries(settings)) ws.catalogue.setSetting(name, value ?? "");
    ws.catalogue.setSetting("locale", { locale, zone });
    ws.catalogue.setSetting("calendar", { ...calendar, workingDays: calendar.workingDays.toSorted(), holidays: [...new Set(calendar.holidays)].toSorted() });
    ws.record("changed the settings", settings.company);
  });
}

/** The logo as a picture's type and bytes; null where there is none. */
export function logoOf(ws: Workspace): { type: string; bytes: Buffer } | null {
  const [, type, base64] = /^data:(.*?);base64,(.*)$/.exec(settingsOf(ws).logo ?? "") ?? [];
  return type && base64 ? { type, bytes: Buffer.from(base64, "base64") } : null;
}

/** Where a page finds the logo, another address for another logo; null where there is none. */
export function logoAddress(ws: Workspace): string | null {
  const logo = logoOf(ws);
  return logo && `/api/logo?v=${createHash("sha256").update(logo.bytes).digest("hex").slice(0, 12)}`;
}
