import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Settings } from "@/core/settings/spec";
import { USUAL_CALENDAR } from "@/core/types/calendar";
import { bareLedger } from "../../../../test/support/ledger";
import { currencyOf, logoAddress, logoOf, saveSettings, settingsOf } from "./settings";
import type { Workspace } from "./workspace";

let ledger: ReturnType<typeof bareLedger>;
let ws: Workspace;
beforeEach(() => {
  ledger = bareLedger(() => new Date("2026-11-23T23:30:00Z"));
  ws = ledger.as();
});
afterEach(() => ledger.close());

const SETTINGS: Settings = {
  company: "Sound Ferries",
  logo: "data:image/png;base64,iVBORw0KGgoAAAANSUhEUg==",
  locale: "de-DE",
  zone: "Europe/Berlin",
  currency: "CHF",
  calendar: { weekStart: 7, yearStart: "04-06", workingDays: [5, 1, 2], holidays: ["2026-12-25", "2026-01-01", "2026-12-25"] },
  paper: "Letter",
};

it("has the usual where nothing was set, or what is kept is no setting", () => {
  expect(settingsOf(ws)).toMatchObject({ company: "Our company", logo: null, currency: "EUR", calendar: USUAL_CALENDAR, paper: "A4" });
  for (const name of ["logo", "currency", "calendar", "paper"]) ledger.catalogue.setSetting(name, "nonsense");
  expect(settingsOf(ws)).toMatchObject({ logo: null, currency: "EUR", calendar: USUAL_CALENDAR, paper: "A4" });
});

it("keeps all that is set, holidays in order and each once, with a line in the log", () => {
  const recorded = vi.spyOn(ledger.people, "record");
  saveSettings(ws, SETTINGS);
  const calendar = { ...SETTINGS.calendar, workingDays: [1, 2, 5], holidays: ["2026-01-01", "2026-12-25"] };
  expect(settingsOf(ws)).toEqual({ ...SETTINGS, calendar });
  expect(currencyOf(ws)).toBe("CHF");
  expect(recorded).toHaveBeenCalledExactlyOnceWith(ws.person, "changed the settings", "Sound Ferries");
  // The day is the zone's: half past midnight in Berlin.
  expect(ws.today).toEqual({ day: "2026-11-24", calendar });
});

it("hands the logo out as a picture, at another address for another one, and none where it was removed", () => {
  saveSettings(ws, SETTINGS);
  expect(logoOf(ws)).toEqual({ type: "image/png", bytes: Buffer.from("iVBORw0KGgoAAAANSUhEUg==", "base64") });
  const first = logoAddress(ws);
  expect(first).toMatch(/^\/api\/logo\?v=[0-9a-f]{12}$/);
  saveSettings(ws, { ...SETTINGS, logo: "data:image/jpeg;base64,/9j/4AAQ" });
  expect(logoAddress(ws)).not.toBe(first);
  saveSettings(ws, { ...SETTINGS, logo: null });
  expect([logoOf(ws), logoAddress(ws), settingsOf(ws).logo]).toEqual([null, null, null]);
});
