import { expect, it } from "vitest";
import { LOCALES, settingsSchema } from "./spec";

const settings = { company: "Brindle", locale: "en-GB", zone: "Europe/Paris", paper: "A4" };

it("takes locales and zones that can be written by, and names what it does not take", () => {
  for (const locale of LOCALES) expect(settingsSchema.safeParse({ ...settings, locale }).success).toBe(true);
  const said = (change: object) => settingsSchema.safeParse({ ...settings, ...change }).error?.issues.map((i) => i.message);
  expect(said({})).toBe(undefined);
  expect(said({ locale: "en_GB" })).toEqual(["Unknown locale. Write it like en-GB."]);
  expect(said({ locale: "xx-QQ" })).toEqual(["Unknown locale. Write it like en-GB."]);
  expect(said({ zone: "Paris" })).toEqual(["Unknown time zone. Write it like Europe/Paris."]);
  expect(said({ zone: "" })).toEqual(["Unknown time zone. Write it like Europe/Paris."]);
  expect(said({ company: "  " })).toEqual(["Enter the name of the company."]);
});
