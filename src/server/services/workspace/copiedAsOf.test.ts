import { expect, it } from "vitest";
import { dueAsOf, NOTHING_AS_OF } from "./copiedAsOf";

const due = (now: string, more: Partial<typeof NOTHING_AS_OF> = {}) => dueAsOf({ ...NOTHING_AS_OF, ...more }, "Europe/London", new Date(now));

it("is the last time of the day that has come in the workspace's zone, or when it was asked for since", () => {
  expect(due("2026-11-23T08:00:00.000Z")).toBe("2026-11-23T07:00:00.000Z");
  expect(due("2026-11-23T06:59:59.000Z")).toBe("2026-11-22T07:00:00.000Z");
  expect(due("2026-11-23T07:00:00.000Z")).toBe("2026-11-23T07:00:00.000Z");
  expect(due("2026-07-01T06:30:00.000Z")).toBe("2026-07-01T06:00:00.000Z");
  expect(due("2026-11-23T08:00:00.000Z", { time: "23:30" })).toBe("2026-11-22T23:30:00.000Z");
  expect(due("2026-11-23T08:00:00.000Z", { since: "2026-11-23T07:30:00.000Z" })).toBe("2026-11-23T07:30:00.000Z");
  expect(due("2026-11-24T08:00:00.000Z", { since: "2026-11-23T07:30:00.000Z" })).toBe("2026-11-24T07:00:00.000Z");
});
