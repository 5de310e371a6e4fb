"use client";

import { useRouter } from "next/navigation";
import { useEffect } from "react";
import { counted } from "@/core/types/format";
import type { TodayRun } from "@/server/services/desk/today";
import { Link } from "../Link";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** How often the desk looks again while something runs. */
const AGAIN_MS = 2000;

/** What schedules ran today and will run, each with what came of it. */
export function TodayRuns({ runs }: { runs: TodayRun[] }) {
  const locale = useLocale();
  const router = useRouter();
  const busy = runs.some((r) => r.state === "queued" || r.state === "running");
  useEffect(() => {
    if (!busy) return;
    const timer = setInterval(() => router.refresh(), AGAIN_MS);
    return () => clearInterval(timer);
  }, [busy, router]);
  const time = new Intl.DateTimeFormat(locale.locale, { hour: "2-digit", minute: "2-digit", timeZone: locale.zone });
  return (
    <section>
      <h2 className="flex items-baseline gap-2 pb-1">
        <span className="font-serif text-[1.125rem] font-semibold">{WORDS.today}</span>
        <span className="text-small text-faint">{WORDS.timesIn(locale.zone)}</span>
      </h2>
      {runs.length === 0 && <p className="text-soft">{WORDS.noRunsToday}</p>}
      <ul>
        {runs.map((run) => (
          <li key={`${run.schedule} ${run.at}`} className="flex gap-3 py-1">
            <span className="w-10 shrink-0 text-faint">{time.format(new Date(run.at))}</span>
            <Link href="/schedules" className="min-w-0 flex-1 truncate hover:underline" title={run.name}>
              {run.name}
            </Link>
            <RunState run={run} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How a run stands: its files are a way to the outbox. */
function RunState({ run }: { run: TodayRun }) {
  const locale = useLocale();
  switch (run.state) {
    case "planned":
      return <span className="shrink-0 text-faint">{WORDS.planned}</span>;
    case "queued":
    case "running":
      return <span className="shrink-0 text-soft">{WORDS.running}</span>;
    case "held":
      return <span className="shrink-0 font-semibold text-vermilion">{WORDS.heldBack}</span>;
    case "failed":
      return <span className="shrink-0 font-semibold text-vermilion">{WORDS.failed}</span>;
    case "done":
      return (
        <Link href="/outbox" className="link shrink-0">
          {run.addresses === 0
            ? WORDS.filesReady(counted(run.files, "file", locale))
            : run.mailed
              ? WORDS.sentTo(counted(run.addresses, "address", locale, "addresses"))
              : WORDS.messageReady}
        </Link>
      );
    default:
      return run.state satisfies never;
  }
}
