import { querySpecSchema } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import { scheduleOccurrences } from "@/core/schedule/occurrences";
import { type ScheduleSpec, scheduleSpecSchema } from "@/core/schedule/spec";
import type { Run } from "@/server/catalogue/catalogue";
import type { Workspace } from "@/server/workspace/workspace";

const DAYS_AHEAD = 14;

export type RunView = Omit<Run, "dueAt" | "startedAt" | "finishedAt"> & { dueAt: string; startedAt: string; finishedAt: string | null; name: string };
export type ScheduleView = { id: string; name: string; revision: number; spec: ScheduleSpec | null; next: string[] };
export type Subject = { kind: "query" | "report"; id: string; name: string; parameters: { name: string; type: string }[] };

/** All that the page of schedules shows. */
export function schedulesState(ws: Workspace) {
  const now = ws.now();
  const until = new Date(now.getTime() + DAYS_AHEAD * 86_400_000);
  const saved = ws.catalogue.list("schedule");
  const schedules = saved.map(({ id, name, revision, spec }): ScheduleView => {
    const parsed = scheduleSpecSchema.safeParse(spec).data ?? null;
    const next = parsed && !parsed.paused ? scheduleOccurrences(parsed, now, until) : [];
    return { id, name, revision, spec: parsed, next: next.map((d) => d.toISOString()) };
  });
  const runs = ws.catalogue.runs(100).map(
    (run): RunView => ({
      ...run,
      dueAt: run.dueAt.toISOString(),
      startedAt: run.startedAt.toISOString(),
      finishedAt: run.finishedAt?.toISOString() ?? null,
      name: saved.find((s) => s.id === run.schedule)?.name ?? "a schedule that is gone",
    }),
  );
  return { schedules, runs, now: now.toISOString(), subjects: subjectsOf(ws) };
}

function subjectsOf(ws: Workspace): Subject[] {
  const queries = ws.catalogue.list("query").map(
    (q): Subject => ({
      kind: "query",
      id: q.id,
      name: q.name,
      parameters: querySpecSchema.safeParse(q.spec).data?.parameters.map(({ name, type }) => ({ name, type })) ?? [],
    }),
  );
  const reports = ws.catalogue.list("report").map((r): Subject => {
    const query = reportSpecSchema.safeParse(r.spec).data?.query;
    return { kind: "report", id: r.id, name: r.name, parameters: queries.find((q) => q.id === query)?.parameters ?? [] };
  });
  return [...reports, ...queries];
}

export type SchedulesState = ReturnType<typeof schedulesState>;
