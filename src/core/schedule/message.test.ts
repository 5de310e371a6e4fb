import { expect, it } from "vitest";
import { messageProblem } from "./message";
import { scheduleSpecSchema } from "./spec";

const good = { to: ["a@example.org"], subject: "Freight", text: "", attach: true };

const schedule = {
  version: 1,
  subject: { kind: "report", id: "r" },
  rule: { kind: "daily" },
  time: "07:00",
  zone: "UTC",
  since: "2026-11-20T00:00:00Z",
  bindings: {},
  formats: ["pdf"],
  folder: "desk",
  paused: false,
};

it("says of a message what keeps it from being sent, in the field and at the server alike", () => {
  const cases: [object, string | null][] = [
    [{}, null],
    [{ to: ["o'hara+x@mail.example.org", "b@example.org"] }, null],
    [{ to: [] }, "Enter at least one address."],
    [{ to: Array.from({ length: 50 }, (_, i) => `a${i}@example.org`) }, null],
    [{ to: Array.from({ length: 51 }, (_, i) => `a${i}@example.org`) }, "Too many addresses: 50 at most."],
    [{ to: ["a@example.org", "Ada <a@example.org>"] }, "“Ada <a@example.org>” is not an address. Write an address like name@example.org."],
    [{ to: ["a@example.org\r\nBcc: b@example.org"] }, "“a@example.org\r\nBcc: b@example.org” is not an address. Write an address like name@example.org."],
    [{ to: ["a@example."] }, "“a@example.” is not an address. Write an address like name@example.org."],
    [{ subject: "" }, "Enter a subject."],
    [{ subject: "x".repeat(201) }, "The subject is too long: 200 characters at most."],
    [{ subject: "Freight\r\nBcc: b@example.org" }, "A subject has only one line."],
  ];
  for (const [change, wanted] of cases) {
    const message = { ...good, ...change };
    expect(messageProblem(message)).toBe(wanted);
    expect(scheduleSpecSchema.safeParse({ ...schedule, message }).error?.issues[0]?.message ?? null).toBe(wanted);
  }
});

it("needs no address in a message that goes to each one's own", () => {
  const each = { query: null, match: [{ from: "a", to: { kind: "column", column: "a" } }], fileName: "", to: "mail", skipEmpty: true };
  const message = { ...good, to: [] };
  expect(scheduleSpecSchema.safeParse({ ...schedule, message, each }).success).toBe(true);
  expect(scheduleSpecSchema.safeParse({ ...schedule, message, each: { ...each, to: null } }).success).toBe(false);
});
