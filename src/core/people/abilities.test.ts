import { describe, expect, it } from "vitest";
import { can } from "./abilities";

describe("abilities", () => {
  it("are those of the role, and none of a role that nobody knows", () => {
    const of = (role: string) => (["look", "build", "keep"] as const).filter((ability) => can(role, ability));
    expect(["viewer", "analyst", "owner", "guest", "", "toString"].map(of)).toEqual([["look"], ["look", "build"], ["look", "build", "keep"], [], [], []]);
  });
});
