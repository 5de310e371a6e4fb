import { expect, it } from "vitest";
import { USUAL_CALENDAR } from "../types/calendar";
import { LOCALES } from "./locales";
import { type Settings, settingsSchema } from "./spec";

const PNG = "data:image/png;base64,iVBORw0KGgoAAAANSUhEUg==";
const settings: Settings = {
  company: "Brindle",
  logo: null,
  locale: "en-GB",
  zone: "Europe/Paris",
  currency: "EUR",
  calendar: USUAL_CALENDAR,
  paper: "A4",
};
const said = (change: object) => settingsSchema.safeParse({ ...settings, ...change }).error?.issues.map((i) => i.message);

it("takes locales, zones and currencies that can be written by, and names what it does not take", () => {
  for (const locale of LOCALES) expect(said({ locale })).toBe(undefined);
  for (const currency of ["GBP", "JPY", "CHF"]) expect(said({ currency })).toBe(undefined);
  expect(said({ locale: "en_GB" })).toEqual(["Unknown locale. Write it like en-GB."]);
  expect(said({ locale: "xx-QQ" })).toEqual(["Unknown locale. Write it like en-GB."]);
  expect(said({ zone: "Paris" })).toEqual(["Unknown time zone. Write it like Europe/Paris."]);
  expect(said({ zone: "" })).toEqual(["Unknown time zone. Write it like Europe/Paris."]);
  expect(said({ company: "  " })).toEqual(["Enter the name of the company."]);
  for (const currency of ["EURO", "eur", "QQQ", ""]) expect(said({ currency }), currency).toEqual(["Unknown currency. Write its code, like EUR."]);
});

it("takes a logo by its first bytes, not by its name", () => {
  for (const logo of [null, PNG, "data:image/jpeg;base64,/9j/4AAQ"]) expect(said({ logo })).toBe(undefined);
  for (const logo of [
    "data:image/svg+xml;base64,PHN2Zz48L3N2Zz4=",
    "data:image/png;base64,PHN2Zz48L3N2Zz4=",
    "data:text/html;base64,iVBORw0KGgo",
    `${PNG}" onerror="`,
    "https://example.org/logo.png",
  ])
    expect(said({ logo }), logo).toEqual(["The logo must be a PNG or JPEG picture."]);
  expect(said({ logo: PNG.replace("==", "A".repeat(280_000)) })).toEqual(["The logo is too large: 200 kB at most."]);
});
