import type { SubjectKind } from "./choices";
import { SUBJECT_FORMATS } from "./choices";
import type { ScheduleSpec } from "./spec";

/** A schedule as it is first made: each working day at seven in the morning, from now on, in the subject's first format. */
export const firstSchedule = (subject: { kind: SubjectKind; id: string }, zone: string, now: Date): ScheduleSpec => ({
  version: 1,
  subject: { kind: subject.kind, id: subject.id },
  rule: { kind: "workingDays" },
  time: "07:00",
  zone,
  since: now.toISOString(),
  bindings: {},
  formats: SUBJECT_FORMATS[subject.kind].slice(0, 1),
  folder: "exports",
  paused: false,
});
