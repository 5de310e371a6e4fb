import { expect, it } from "vitest";
import { decimal, floating, text, yesno } from "../types/valueType";
import { valueOfCell } from "./recount";

it("takes figures of values as they are, and of what does not fit its column as of nothing", () => {
  const price = decimal(2);
  expect(valueOfCell("9007199254740993", price)).toBe(9007199254740993n);
  expect(valueOfCell("1.5", floating)).toBe(1.5);
  expect(valueOfCell("01", text)).toBe("01");
  expect([valueOfCell("1", yesno), valueOfCell("0", yesno)]).toEqual([true, false]);
  for (const type of [price, floating, text, yesno]) expect([valueOfCell(null, type), valueOfCell({ misfit: "n/a" }, type)]).toEqual([null, null]);
});
