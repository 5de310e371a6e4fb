import { expect, it } from "vitest";
import { unitSign, withUnit } from "./unit";

it("a unit stands beside its heading, a currency by its sign", () => {
  expect(["EUR", "USD", "GBP", "JPY", "CHF", "QQQ", "kg", "%", "eur"].map(unitSign)).toEqual(["€", "$", "£", "¥", "CHF", "QQQ", "kg", "%", "eur"]);
  expect([withUnit("Freight", "EUR"), withUnit("Weight", "kg"), withUnit("Rows", undefined), withUnit("Rows", "")]).toEqual([
    "Freight, €",
    "Weight, kg",
    "Rows",
    "Rows",
  ]);
});
