import { scheduleOccurrences } from "@/core/schedule/occurrences";
import { scheduleSpecSchema } from "@/core/schedule/spec";
import { dayInZone } from "@/core/types/date";
import type { Run } from "@/server/catalogue/runs";
import type { Workspace } from "@/server/services/workspace/workspace";

/** A schedule's run of today: made, or still to come. */
export type TodayRun = { at: string; schedule: string; name: string; state: Run["state"] | "planned"; files: number; addresses: number; mailed: boolean };

const DAY_MS = 86_400_000;

/** What runs today by the workspace's clock, of the schedules that the one who works here sees; the earliest first. */
export function todayOf(ws: Workspace): TodayRun[] {
  const now = ws.now();
  const isToday = (at: Date) => dayInZone(at, ws.locale.zone) === ws.today.day;
  const runs = ws.catalogue.runs.since(new Date(now.getTime() - 2 * DAY_MS)).filter((r) => isToday(r.dueAt));
  const mailed = Boolean(process.env.NEXT_LEDGER_SMTP);
  return ws.objects
    .list("schedule")
    .flatMap(({ id, name, spec }): TodayRun[] => {
      const parsed = scheduleSpecSchema.safeParse(spec).data;
      const addresses = parsed?.message?.to.length ?? 0;
      const line = { schedule: id, name, addresses, mailed };
      const made = runs
        .filter((r) => r.schedule === id)
        .map((r): TodayRun => ({ ...line, at: r.dueAt.toISOString(), state: r.state, files: r.files?.length ?? 0 }));
      const ahead = parsed && !parsed.paused ? scheduleOccurrences(parsed, ws.calendar, now, new Date(now.getTime() + DAY_MS)).filter(isToday) : [];
      return [...made, ...ahead.map((at): TodayRun => ({ ...line, at: at.toISOString(), state: "planned", files: 0 }))];
    })
    .sort((a, b) => a.at.localeCompare(b.at) || a.name.localeCompare(b.name));
}
