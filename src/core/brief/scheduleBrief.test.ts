import { describe, expect, it } from "vitest";
import { type ScheduleSpec, scheduleSpecSchema } from "../schedule/spec";
import { briefText } from "./brief";
import { ruleWords, scheduleBrief } from "./scheduleBrief";

const spec: ScheduleSpec = {
  version: 1,
  subject: { kind: "report", id: "r" },
  rule: { kind: "weekdays", days: [5, 1] },
  time: "06:30",
  zone: "Europe/Paris",
  since: "2026-01-01T00:00:00Z",
  bindings: { start: { kind: "relative", date: "firstOfLastMonth" }, end: { kind: "fixed", text: "2026-09-30" } },
  formats: ["pdf", "csv"],
  folder: "desk",
  paused: false,
};
const locale = { locale: "en-GB", zone: "UTC" };

describe("the brief of a schedule", () => {
  it("says when, what, for which period, in which form, and where", () =>
    expect(briefText(scheduleBrief(spec, { name: "Statement" }, locale))).toBe(
      "Every Monday and Friday at 06:30, run the report Statement with start first day of last month and end 30 Sept 2026, save PDF and CSV in outbox › desk.",
    ));
  it("says each rule, and a subject that is gone", () => {
    expect(
      [{ kind: "daily" }, { kind: "workingDays" }, { kind: "monthDay", day: 3 }, { kind: "lastWorkingDay" }].map((r) => ruleWords(r as ScheduleSpec["rule"])),
    ).toEqual(["Every day", "Every working day", "On day 3 of the month", "On the last working day of the month"]);
    expect(briefText(scheduleBrief({ ...spec, bindings: {} }, null, locale))).toContain("a deleted one");
  });
  it("is made of a description whose every wrong part is refused in words", () => {
    const wrong = { ...spec, time: "25:00", zone: "Europe/Nowhere", formats: [], folder: "../up", rule: { kind: "weekdays", days: [] } };
    const checked = scheduleSpecSchema.safeParse(wrong);
    expect(checked.error?.issues.map((i) => i.path[0])).toEqual(["rule", "time", "zone", "formats", "folder"]);
  });
});
