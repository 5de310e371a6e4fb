import { z } from "zod";
import { isZone } from "../types/date";
import { relativeDateSchema } from "../types/schemas";
import { FORMATS, SUBJECT_FORMATS, SUBJECTS } from "./choices";
import { eachSchema } from "./eachSpec";
import { messageProblem } from "./message";

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

/** A message that goes with a run's files: to whom, and its words, in which {name}, {day} and {rows} stand for the run's own. */
export const messageSchema = z.object({ to: z.array(z.string()), subject: z.string(), text: z.string().max(10_000), attach: z.boolean() });
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
    /** Made once for each of many. */
    each: eachSchema.nullable().optional(),
  })
  .superRefine(({ message, each }, context) => {
    // Where each has an address of its own, the message needs none.
    const wrong = message ? messageProblem(each?.to ? { ...message, to: message.to.length > 0 ? message.to : ["each@example.org"] } : message) : null;
    if (wrong) context.addIssue({ code: "custom", path: ["message"], message: wrong });
  })
  .refine((s) => s.formats.every((f) => SUBJECT_FORMATS[s.subject.kind].includes(f)), {
    path: ["formats"],
    message: "One of these formats is not available for this object. Choose others.",
  })
  .refine((s) => s.subject.kind !== "posting" || !s.each, { path: ["each"], message: "A posting is not made once for each of many." });
export type ScheduleSpec = z.infer<typeof scheduleSpecSchema>;
