import { type Parameter, querySpecSchema } from "@/core/query/spec";
import type { SubjectKind } from "@/core/schedule/choices";
import { scheduleOccurrences } from "@/core/schedule/occurrences";
import { type ScheduleSpec, scheduleSpecSchema } from "@/core/schedule/spec";
import type { Run, SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { Refusal } from "@/server/http/refusal";
import type { Workspace } from "@/server/workspace/workspace";

const DAYS_AHEAD = 14;

export type RunView = Omit<Run, "dueAt" | "startedAt" | "finishedAt"> & { dueAt: string; startedAt: string; finishedAt: string | null; name: string };
export type ScheduleView = { id: string; name: string; revision: number; spec: ScheduleSpec | null; next: string[] };
export type Subject = { kind: SubjectKind; id: string; name: string; parameters: Pick<Parameter, "name" | "type">[] };

/** All that the page of schedules shows. */
export function schedulesState(ws: Workspace) {
  const now = ws.now();
  const until = new Date(now.getTime() + DAYS_AHEAD * 86_400_000);
  const saved = ws.objects.list("schedule");
  const schedules = saved.map(({ id, name, revision, spec }): ScheduleView => {
    const parsed = scheduleSpecSchema.safeParse(spec).data ?? null;
    const next = parsed && !parsed.paused ? scheduleOccurrences(parsed, ws.calendar, now, until) : [];
    return { id, name, revision, spec: parsed, next: next.map((d) => d.toISOString()) };
  });
  const mine = ws.signedIn ? ws.catalogue.runs(400).filter((r) => saved.some((s) => s.id === r.schedule)) : ws.catalogue.runs(100);
  const runs = mine.slice(0, 100).map(
    (run): RunView => ({
      ...run,
      dueAt: run.dueAt.toISOString(),
      startedAt: run.startedAt.toISOString(),
      finishedAt: run.finishedAt?.toISOString() ?? null,
      name: saved.find((s) => s.id === run.schedule)?.name ?? "a deleted schedule",
    }),
  );
  return { schedules, runs, now: now.toISOString(), subjects: subjectsOf(ws) };
}

export type TroubledRun = { schedule: SavedObject; run: Run };

/** The schedules whose last run was held back or failed, of those that the one who works here may change. */
export const troubledRuns = (ws: Workspace): TroubledRun[] =>
  ws.objects.list("schedule").flatMap((schedule) => {
    if (ws.objects.level(schedule) !== "edit") return [];
    const run = ws.catalogue.runsOf(schedule.id, 1)[0];
    return run?.state === "held" || run?.state === "failed" ? [{ schedule, run }] : [];
  });

/** A schedule that the person may have run. @throws Refusal */
export function scheduleToRun(ws: Workspace, id: string): SavedObject {
  const saved = ws.objects.open(id);
  if (saved?.kind !== "schedule") throw new Refusal(404, "This schedule does not exist any more, or it is not shared with you.");
  if (ws.objects.level(saved) !== "edit") throw new Refusal(403, "You can view this schedule, but not run it.");
  return saved;
}

function subjectsOf(ws: Workspace): Subject[] {
  const queries = ws.objects.list("query").map(
    (q): Subject => ({
      kind: "query",
      id: q.id,
      name: q.name,
      parameters: querySpecSchema.safeParse(q.spec).data?.parameters.map(({ name, type }) => ({ name, type })) ?? [],
    }),
  );
  const dashboards = ws.objects.list("dashboard").map(({ id, name }): Subject => ({ kind: "dashboard", id, name, parameters: [] }));
  const made = (["report", "pivot", "chart", "letter"] as const).flatMap((kind) =>
    ws.objects.list(kind).map((o): Subject => {
      const [query] = madeFrom(kind, o.spec);
      return { kind, id: o.id, name: o.name, parameters: queries.find((q) => q.id === query)?.parameters ?? [] };
    }),
  );
  return [...made, ...dashboards, ...queries];
}

export type SchedulesState = ReturnType<typeof schedulesState>;
