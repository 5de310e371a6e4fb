import { z } from "zod";
import { CHART_FORMATS } from "../chart/spec";
import { DASHBOARD_FORMATS } from "../dashboard/spec";
import { LETTER_FORMATS } from "../letter/spec";
import { PIVOT_FORMATS } from "../pivot/spec";
import { isZone } from "../types/date";
import { relativeDateSchema } from "../types/relative";

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"] as const;

/** When a schedule runs. Which days are worked is said by the workspace's calendar. */
export const ruleSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("daily") }),
  z.object({ kind: z.literal("workingDays") }),
  z.object({ kind: z.literal("weekdays"), days: z.array(z.number().int().min(1).max(7)).min(1).max(7) }),
  z.object({ kind: z.literal("monthDay"), day: z.number().int().min(1).max(31) }),
  z.object({ kind: z.literal("lastWorkingDay") }),
]);
export type ScheduleRule = z.infer<typeof ruleSchema>;

/** A parameter's value at each run: fixed, or relative to the day of the run. */
export const bindingSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("fixed"), text: z.string() }),
  z.object({ kind: z.literal("relative"), date: relativeDateSchema }),
]);
export type Binding = z.infer<typeof bindingSchema>;

export const ROW_FORMATS = ["csv", "xlsx", "json", "ndjson"] as const;
/** The formats that take a query's rows one by one. */
export type RowFormat = (typeof ROW_FORMATS)[number];

export const FORMATS = ["pdf", "zip", "png", ...ROW_FORMATS] as const;
export type Format = (typeof FORMATS)[number];

export const SUBJECTS = ["query", "report", "pivot", "chart", "dashboard", "letter"] as const;
export type SubjectKind = (typeof SUBJECTS)[number];

/** The files each kind of subject can be made into; the first is what a new schedule begins with. */
export const SUBJECT_FORMATS: Record<SubjectKind, readonly Format[]> = {
  query: ["csv", "xlsx", "json", "ndjson", "pdf"],
  report: ["pdf", "csv", "xlsx", "json", "ndjson"],
  pivot: PIVOT_FORMATS.toReversed(),
  chart: ["pdf", ...CHART_FORMATS.filter((f) => f !== "pdf")],
  dashboard: DASHBOARD_FORMATS,
  letter: LETTER_FORMATS,
};

/** A place mail goes to: a plain address, without a name (RFC 5322 addr-spec, common practice's subset). */
const mailAddress = z
  .string()
  .max(200)
  .regex(/^[^\s@<>,;:"()[\]\\]+@[a-z0-9]([a-z0-9.-]*[a-z0-9])?$/i, "Write an address like name@example.org.");

/** A message that goes with a run's files: to whom, and its words, in which {name}, {day} and {rows} stand for the run's own. */
export const messageSchema = z.object({
  to: z.array(mailAddress).min(1, "Enter at least one address.").max(50),
  subject: z
    .string()
    .min(1, "Enter a subject.")
    .max(200)
    .regex(/^[^\r\n]*$/, "A subject has only one line."),
  text: z.string().max(10_000),
  attach: z.boolean(),
});
export type ScheduleMessage = z.infer<typeof messageSchema>;

const zoneSchema = z.string().refine(isZone, "Unknown time zone. Write it like Europe/Paris.");

/** The saved description of a recurring export. */
export const scheduleSpecSchema = z
  .object({
    version: z.literal(1),
    subject: z.object({ kind: z.enum(SUBJECTS), id: z.string() }),
    rule: ruleSchema,
    time: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "Write the time like 07:00."),
    zone: zoneSchema,
    /** Runs due before this instant are none of its concern (ISO 8601, UTC). */
    since: z.string(),
    bindings: z.record(z.string(), bindingSchema),
    formats: z.array(z.enum(FORMATS)).min(1, "Choose at least one format."),
    folder: z
      .string()
      .max(80)
      .regex(/^[^/\\.\0][^/\\\0]*$/, "A folder name has no slashes and does not start with a dot."),
    paused: z.boolean(),
    /** Laid in the outbox beside the files, and sent where a mail server is set. */
    message: messageSchema.nullable().optional(),
  })
  .refine((s) => s.formats.every((f) => SUBJECT_FORMATS[s.subject.kind].includes(f)), {
    path: ["formats"],
    message: "One of these formats is not available for this object. Choose others.",
  });
export type ScheduleSpec = z.infer<typeof scheduleSpecSchema>;

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
