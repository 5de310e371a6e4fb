import { type Parameter, querySpecSchema } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import type { SubjectKind } from "@/core/schedule/choices";
import { scheduleOccurrences } from "@/core/schedule/occurrences";
import { type ScheduleSpec, scheduleSpecSchema } from "@/core/schedule/spec";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import type { Run, RunItem } from "@/server/catalogue/runs";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";

const DAYS_AHEAD = 14;

/** How those stand that a run makes its subject for. */
export type EachCounts = { all: number; made: number; sent: number; empty: number; noAddress: number; troubled: number };
export type RunView = Omit<Run, "dueAt" | "startedAt" | "finishedAt" | "files"> & {
  dueAt: string;
  startedAt: string;
  finishedAt: string | null;
  name: string;
  /** Of a run of many the first of its files alone. */
  files: Run["files"];
  each: EachCounts | null;
};
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
  const mine = ws.signedIn ? ws.catalogue.runs.all(400).filter((r) => saved.some((s) => s.id === r.schedule)) : ws.catalogue.runs.all(100);
  const runs = mine.slice(0, 100).map(
    (run): RunView => ({
      ...run,
      dueAt: run.dueAt.toISOString(),
      startedAt: run.startedAt.toISOString(),
      finishedAt: run.finishedAt?.toISOString() ?? null,
      ...eachOf(ws, run),
      name: saved.find((s) => s.id === run.schedule)?.name ?? "a deleted schedule",
    }),
  );
  return { schedules, runs, now: now.toISOString(), subjects: subjectsOf(ws) };
}

/** How a run of many stands; of any other, its files. */
function eachOf(ws: Workspace, run: Run): Pick<RunView, "each" | "files"> {
  const items = ws.catalogue.runs.items(run.id);
  if (items.length === 0) return { each: null, files: run.files };
  const count = (is: (item: RunItem) => boolean) => items.filter(is).length;
  const each = {
    all: items.length,
    made: count((i) => i.state === "made" || i.state === "sent" || i.state === "sending"),
    sent: count((i) => i.state === "sent"),
    empty: count((i) => i.state === "empty"),
    noAddress: count((i) => i.state !== "empty" && i.item.wrong === ""),
    troubled: count((i) => Boolean(i.error)),
  };
  return { each, files: run.files?.slice(0, 1) ?? null };
}

/** Each of those that a run makes its subject for, as the page of schedules lists them. @throws Refusal */
export function itemsOfRun(ws: Workspace, run: string) {
  const found = ws.catalogue.runs.all(1000).find((r) => r.id === run);
  if (!found) throw new Refusal(404, "This run does not exist any more.");
  scheduleToRun(ws, found.schedule);
  return ws.catalogue.runs
    .items(run)
    .map(({ item, state, rows, pages, files, error }) => ({ words: item.words, to: item.to, state, rows, pages, files, error: error || null }));
}
export type ItemView = ReturnType<typeof itemsOfRun>[number];

export type TroubledRun = { schedule: SavedObject; run: Run };

/** The schedules whose last run was held back or failed, of those that the one who works here may change. */
export const troubledRuns = (ws: Workspace): TroubledRun[] =>
  ws.objects.list("schedule").flatMap((schedule) => {
    if (ws.objects.level(schedule) !== "edit") return [];
    const run = ws.catalogue.runs.of(schedule.id, 1)[0];
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
      const own = kind === "report" ? reportSpecSchema.safeParse(o.spec).data?.own : undefined;
      const parameters = own ? own.parameters.map(({ name, type }) => ({ name, type })) : queries.find((q) => q.id === query)?.parameters;
      return { kind, id: o.id, name: o.name, parameters: parameters ?? [] };
    }),
  );
  const postings = ws.objects.list("posting").map(({ id, name, spec }): Subject => {
    const [query] = madeFrom("posting", spec);
    return { kind: "posting", id, name, parameters: queries.find((q) => q.id === query)?.parameters ?? [] };
  });
  return [...made, ...dashboards, ...queries, ...postings];
}

export type SchedulesState = ReturnType<typeof schedulesState>;
