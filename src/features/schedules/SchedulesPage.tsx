"use client";

import { useRouter } from "next/navigation";
import { type ReactNode, useCallback, useEffect, useState } from "react";
import { toast } from "sonner";
import { scheduleBrief } from "@/core/brief/scheduleBrief";
import { firstSchedule } from "@/core/schedule/first";
import type { ScheduleSpec } from "@/core/schedule/spec";
import { addDays, dayInZone, weekdayOf } from "@/core/types/date";
import { counted } from "@/core/types/format";
import type { RunView, SchedulesState, ScheduleView, Subject } from "@/server/services/scheduler/state";
import { Brief, BriefPopover } from "@/ui/Brief";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { EachLookPanel, EachRun } from "./EachLook";
import { ScheduleEditor } from "./editors";
import { WORDS } from "./words";

const POLL_MS = 2_000;

/** The schedules, each as its brief; the fortnight ahead; what has been run. */
export function SchedulesPage({ initial, zone, making }: { initial: SchedulesState; zone: string; making: string | null }) {
  const router = useRouter();
  const [state, setState] = useState(initial);
  const refresh = useCallback(() => ask<SchedulesState>("/api/schedules/state").then(setState, () => {}), []);
  useEffect(() => {
    const timer = setInterval(refresh, POLL_MS);
    return () => clearInterval(timer);
  }, [refresh]);
  const finished = state.runs.filter((r) => r.finishedAt).length;
  // The bar counts the outbox anew when a run has finished.
  useEffect(() => {
    router.refresh();
  }, [finished]);

  const attempt = (work: Promise<unknown>) => work.then(refresh, (error) => toast.error(sentenceOf(error)));
  const create = (subject: Subject) =>
    attempt(
      ask("/api/objects", { kind: "schedule", name: subject.name, spec: firstSchedule(subject, zone, new Date()) }).then(() =>
        window.history.replaceState(null, "", "/schedules"),
      ),
    );
  const asked = making ? state.subjects.find((s) => s.id === making) : undefined;
  const [offered, setOffered] = useState(making !== null);

  return (
    <div className="flex h-full">
      <section className="min-w-0 flex-1 overflow-auto px-8 py-4">
        <div className="flex items-center gap-3 pb-4">
          <PageHeading name={COMMON.schedules} />
          <span className="text-small text-soft">{WORDS.timesIn(zone)}</span>
          <span className="ml-auto flex gap-2">
            <Link href="/outbox" className="button">
              {COMMON.outbox}
            </Link>
            <BriefPopover label={COMMON.newSchedule} className="button-primary">
              {(close) => (
                <SubjectList
                  subjects={state.subjects}
                  pick={(s) => {
                    close();
                    void create(s);
                  }}
                />
              )}
            </BriefPopover>
          </span>
        </div>
        {offered && (
          <div className="mb-5 rounded border border-dashed border-bottle bg-sheet p-4">
            <p className="pb-2 font-semibold">{asked ? WORDS.schedule(asked.name) : WORDS.whatToMake}</p>
            {asked ? (
              <span className="flex gap-2">
                <button
                  type="button"
                  className="button-primary"
                  onClick={() => {
                    setOffered(false);
                    void create(asked);
                  }}
                >
                  {WORDS.createSchedule}
                </button>
                <button type="button" className="button" onClick={() => setOffered(false)}>
                  {COMMON.cancel}
                </button>
              </span>
            ) : (
              <SubjectList
                subjects={state.subjects}
                pick={(s) => {
                  setOffered(false);
                  void create(s);
                }}
              />
            )}
          </div>
        )}
        <Fortnight state={state} zone={zone} />
        {state.schedules.length === 0 && <p className="text-soft">{WORDS.noSchedulesYetNewSchedule}</p>}
        <ul>
          {state.schedules.map((s) => (
            <ScheduleItem key={s.id} schedule={s} runs={state.runs.filter((r) => r.schedule === s.id)} subjects={state.subjects} attempt={attempt} />
          ))}
        </ul>
      </section>
      <Margin parts={[{ name: WORDS.runs, content: <Runs runs={state.runs} /> }]} />
    </div>
  );
}

function SubjectList({ subjects, pick }: { subjects: Subject[]; pick: (subject: Subject) => void }) {
  if (subjects.length === 0) return <p className="text-soft">{WORDS.saveAQueryOrA}</p>;
  return (
    <>
      {subjects.map((s) => (
        <button key={s.id} type="button" className="menu-item flex justify-between gap-4" onClick={() => pick(s)}>
          {s.name}
          <span className="text-soft">{s.kind}</span>
        </button>
      ))}
    </>
  );
}

function useTimes(zone: string) {
  const { locale } = useLocale();
  return {
    dayAndTime: (iso: string) =>
      new Intl.DateTimeFormat(locale, { weekday: "short", day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", timeZone: zone }).format(
        new Date(iso),
      ),
    time: (iso: string) => new Intl.DateTimeFormat(locale, { hour: "2-digit", minute: "2-digit", timeZone: zone }).format(new Date(iso)),
    day: (date: string) => new Intl.DateTimeFormat(locale, { weekday: "short", day: "numeric", timeZone: "UTC" }).format(new Date(`${date}T00:00:00Z`)),
  };
}

/** Tells while it is there. */
function WhileOpen({ tell, children }: { tell: (open: boolean) => void; children: ReactNode }) {
  useEffect(() => {
    tell(true);
    return () => tell(false);
  }, [tell]);
  return children;
}

/** The fourteen days ahead, with what will run on each. */
function Fortnight({ state, zone }: { state: SchedulesState; zone: string }) {
  const times = useTimes(zone);
  const today = dayInZone(new Date(state.now), zone);
  const due = state.schedules.flatMap((s) => s.next.map((at) => ({ at, name: s.name, day: dayInZone(new Date(at), zone) })));
  return (
    <>
      <h2 className="caption pb-2">{WORDS.next14Days}</h2>
      <ol className="mb-5 grid grid-cols-7 border-t border-l border-rule bg-sheet">
        {Array.from({ length: 14 }, (_, i) => addDays(today, i)).map((day) => (
          <li
            key={day}
            aria-current={day === today ? "date" : undefined}
            className={`min-h-16 min-w-0 border-r border-b border-rule px-1.5 py-1 ${weekdayOf(day) > 5 ? "bg-paper" : ""} ${day === today ? "outline-2 -outline-offset-2 outline-ink" : ""}`}
          >
            <span className="text-small font-semibold">{times.day(day)}</span>
            {due
              .filter((d) => d.day === day)
              .sort((a, b) => a.at.localeCompare(b.at))
              .map((d) => (
                <span key={`${d.name} ${d.at}`} title={d.name} className="mt-0.5 block truncate border-l-[3px] border-bottle pl-1 text-tiny text-soft">
                  {times.time(d.at)} {d.name}
                </span>
              ))}
          </li>
        ))}
      </ol>
    </>
  );
}

function ScheduleItem({
  schedule,
  runs,
  subjects,
  attempt,
}: {
  schedule: ScheduleView;
  runs: RunView[];
  subjects: Subject[];
  attempt: (work: Promise<unknown>) => Promise<unknown>;
}) {
  const locale = useLocale();
  const times = useTimes(schedule.spec?.zone ?? locale.zone);
  const [name, setName] = useState(schedule.name);
  /** What one file is made for is being set up: its chip stays until that is done, though the sentence has it already. */
  const [adding, setAdding] = useState(false);
  const { spec } = schedule;
  if (!spec)
    return (
      <li className="border-b border-rule py-4">
        <Notice tone="wrong">{WORDS.unreadable(schedule.name)}</Notice>
      </li>
    );
  const save = (change: { spec?: ScheduleSpec; name?: string }) =>
    attempt(ask(`/api/objects/${schedule.id}`, { ...change, revision: schedule.revision }, { method: "PATCH" }));
  const subject = subjects.find((s) => s.kind === spec.subject.kind && s.id === spec.subject.id) ?? null;
  const unbound = subject?.parameters.filter((p) => !(p.name in spec.bindings)) ?? [];
  const [last] = runs;
  return (
    <li className="grid gap-x-6 gap-y-1 border-b border-rule py-4 md:grid-cols-[1fr_14rem]" data-schedule={schedule.name}>
      <div>
        <input
          aria-label={WORDS.scheduleName}
          value={name}
          onChange={(e) => setName(e.target.value)}
          onBlur={() => name.trim() && name !== schedule.name && save({ name: name.trim() })}
          onKeyDown={(e) => {
            if (e.key === "Enter") e.currentTarget.blur();
          }}
          className="min-h-6 w-full rounded bg-transparent text-small font-semibold text-soft hover:bg-sheet focus:bg-sheet"
        />
        <Brief
          phrases={scheduleBrief(spec, subject, locale, (id) => subjects.find((s) => s.id === id)?.name)}
          keyOf={(t) => (t.kind === "field" ? t.name : t.kind)}
          onDelete={(t) => {
            if (t.kind === "field" && t.name === "each") void save({ spec: { ...spec, each: null } });
            if (t.kind === "field" && t.name === "message") void save({ spec: { ...spec, message: null } });
            if (t.kind === "field" && t.name.startsWith("binding ")) {
              const { [t.name.slice(8)]: _, ...bindings } = spec.bindings;
              void save({ spec: { ...spec, bindings } });
            }
          }}
          editor={(t, close) => (
            <ScheduleEditor
              part={t.kind === "field" ? t.name : ""}
              spec={spec}
              subjects={subjects}
              save={(next) => {
                void save({ spec: next });
              }}
              close={close}
            />
          )}
        >
          {" "}
          {unbound.map((p) => (
            <button
              key={p.name}
              type="button"
              className="chip mr-1"
              onClick={() =>
                save({
                  spec: {
                    ...spec,
                    bindings: { ...spec.bindings, [p.name]: p.type === "date" ? { kind: "relative", date: "yesterday" } : { kind: "fixed", text: "" } },
                  },
                })
              }
            >
              {WORDS.setParameter(p.name)}
            </button>
          ))}
          {spec.subject.kind !== "posting" && (!spec.each || adding) && (
            <BriefPopover label={WORDS.addEach} className="chip mr-1">
              {(close) => (
                <WhileOpen tell={setAdding}>
                  <ScheduleEditor part="each" spec={spec} subjects={subjects} save={(next) => void save({ spec: next })} close={close} />
                </WhileOpen>
              )}
            </BriefPopover>
          )}
          {!spec.message && (
            <BriefPopover label={WORDS.message} className="chip">
              {(close) => <ScheduleEditor part="message" spec={spec} subjects={subjects} save={(next) => void save({ spec: next })} close={close} />}
            </BriefPopover>
          )}
        </Brief>
        {spec.each && <EachLookPanel spec={spec} />}
      </div>
      <div className="text-small">
        {last && (
          <p>
            <Outcome run={last} /> {times.dayAndTime(last.dueAt)}
          </p>
        )}
        {last?.error && <p className={last.state === "held" ? "text-ochre" : "text-vermilion"}>{last.error}</p>}
        {last?.state === "held" && spec.subject.kind === "posting" && (
          <Link className="link" href={`/postings/${spec.subject.id}`}>
            {WORDS.openPosting}
          </Link>
        )}
        {last?.state === "held" && spec.subject.kind !== "posting" && (
          <button type="button" className="link" onClick={() => attempt(ask(`/api/schedules/${schedule.id}/send`, { run: last.id }))}>
            {WORDS.sendAnyway}
          </button>
        )}
        <p className="text-soft">{spec.paused ? "paused" : schedule.next[0] ? WORDS.nextRun(times.dayAndTime(schedule.next[0])) : WORDS.noRunInTheNext}</p>
        <p className="flex flex-wrap gap-3 pt-1">
          <button type="button" className="link" onClick={() => attempt(ask(`/api/schedules/${schedule.id}/run`, {}))}>
            {WORDS.runNow}
          </button>
          <button
            type="button"
            className="link"
            onClick={() => save({ spec: { ...spec, paused: !spec.paused, since: spec.paused ? new Date().toISOString() : spec.since } })}
          >
            {spec.paused ? WORDS.resume : WORDS.pause}
          </button>
          <button
            type="button"
            className="font-semibold text-vermilion hover:underline"
            onClick={() =>
              attempt(
                ask(`/api/objects/${schedule.id}`, {}, { method: "DELETE" }).then(() =>
                  toast(COMMON.deleted(schedule.name), {
                    action: { label: COMMON.undo, onClick: () => void attempt(ask("/api/objects", { kind: "schedule", name: schedule.name, spec })) },
                  }),
                ),
              )
            }
          >
            {COMMON.delete}
          </button>
        </p>
      </div>
    </li>
  );
}

function Outcome({ run }: { run: RunView }) {
  if (run.state === "held") return <b className="text-ochre">{WORDS.heldBack}</b>;
  if (run.state === "failed") return <b className="text-vermilion">{WORDS.failed}</b>;
  if (run.state !== "done") return <b className="text-soft">{run.state === "queued" ? "waiting" : WORDS.running}</b>;
  const marks = [run.late ? "late" : "", run.attempt > 1 ? WORDS.attempt(run.attempt) : "", run.manual ? COMMON.manual : ""].filter(Boolean).join(", ");
  return <b className={run.late || run.attempt > 1 ? "text-ochre" : "text-bottle"}>✓ {marks || "made"}</b>;
}

/** What has been run: when, how long, how much, how it ended. */
function Runs({ runs }: { runs: RunView[] }) {
  const locale = useLocale();
  const times = useTimes(locale.zone);
  if (runs.length === 0) return <p className="text-soft">{WORDS.noRunsYet}</p>;
  return (
    <ol className="grid gap-2 text-small">
      {runs.map((run) => {
        const seconds = run.finishedAt ? (Date.parse(run.finishedAt) - Date.parse(run.startedAt)) / 1000 : null;
        return (
          <li key={run.id} className="border-b border-hairline pb-2">
            <p className="flex justify-between gap-2">
              <span>{times.dayAndTime(run.dueAt)}</span>
              <Outcome run={run} />
            </p>
            <p className="truncate font-semibold">{run.name}</p>
            {run.state === "done" && (
              <p className="text-soft">
                {[
                  run.rows === null ? "" : counted(run.rows, "row", locale),
                  run.pages === null ? "" : counted(run.pages, "page", locale),
                  seconds === null ? "" : `${seconds.toFixed(1)} s`,
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </p>
            )}
            <EachRun run={run} />
            {run.error && <p className="text-vermilion">{run.error}</p>}
            {run.removedAt && <p className="text-soft">{WORDS.filesRemoved}</p>}
            {run.files?.map((f) => {
              const kind = f.path.split(".").at(-1) ?? "";
              return (
                <Link key={f.path} className="link mr-2" href={`/outbox?file=${encodeURIComponent(f.path)}`}>
                  {run.each ? WORDS.filesInOutbox : kind === "eml" ? "message" : kind.toUpperCase()}
                </Link>
              );
            })}
          </li>
        );
      })}
    </ol>
  );
}
