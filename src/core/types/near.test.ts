import { expect, it } from "vitest";
import { lookedUp, nearest } from "./near";

it("finds the name that was likely meant", () => {
  const names = ["Fennimore Kilns", "Mirrin Wool", "Rowan", "Rowen"];
  expect(nearest("Fennimore Kiln", names)).toBe("Fennimore Kilns");
  expect(nearest(" fenimore  KILNS", names)).toBe("Fennimore Kilns");
  expect(nearest("Mirren Wol", names)).toBe("Mirrin Wool");
  expect(nearest("Mirxxx Wxxl", names)).toBeNull();
  // Of a short name one letter may be another; of several as near, the first.
  expect(nearest("Rowin", names)).toBe("Rowan");
  expect(nearest("Raxan", names)).toBeNull();
  expect(nearest("", names)).toBeNull();
  expect(lookedUp("  Łódź \t Mill ")).toBe("lodz mill");
});
