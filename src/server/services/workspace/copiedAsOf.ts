import { z } from "zod";
import { occurrencesOf } from "@/core/schedule/occurrences";

/**
 * What an owner chose to be read as of an earlier moment, of a database server's tables: groups of the large tables that
 * are named are worked out on a copy, which is read again each day at a time of the workspace's zone.
 * `since`: the moment since which it must have been read again, whatever the time of the day (ISO 8601).
 */
export const copiedAsOfSchema = z.object({
  tables: z.array(z.string().max(500)).max(1000),
  time: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/),
  since: z.string().max(40),
});
export type CopiedAsOf = z.infer<typeof copiedAsOfSchema>;

export const NOTHING_AS_OF: CopiedAsOf = { tables: [], time: "07:00", since: "" };

const DAY_MS = 86_400_000;

/** The moment (ISO 8601) since which the tables must have been read again. @param zone IANA */
export function dueAsOf({ time, since }: CopiedAsOf, zone: string, now: Date): string {
  // A day on which the clocks change has up to 25 hours.
  const last =
    occurrencesOf("FREQ=DAILY", time, zone, new Date(now.getTime() - 2 * DAY_MS), now)
      .at(-1)
      ?.toISOString() ?? "";
  return since > last ? since : last;
}
