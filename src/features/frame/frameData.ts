import type { Role } from "@/core/people/roles";
import { listOutbox } from "@/server/services/outbox/outbox";
import { troubledRuns } from "@/server/services/scheduler/state";
import { currencyOf } from "@/server/services/workspace/settings";
import type { Workspace } from "@/server/services/workspace/workspace";
import type { Ways } from "../workspace/ways";

/** What every page's bar shows: how many files lie in the outbox, how many runs were held back or failed, who works here; and how the workspace writes. */
export function frameData(ws: Workspace): FrameData {
  const { signedIn } = ws;
  const role = signedIn?.role ?? "owner";
  const looks = role === "viewer";
  return {
    outbox: looks ? 0 : listOutbox(ws).length,
    troubled: looks ? 0 : troubledRuns(ws).length,
    locale: ws.locale,
    ways: { day: ws.today.day, weekStart: ws.calendar.weekStart, yearStart: ws.calendar.yearStart, currency: currencyOf(ws) },
    person: signedIn && { name: signedIn.name },
    role,
    knownAs: ws.knownAs,
    looked: ws.looking.share,
  };
}

export type FrameData = {
  outbox: number;
  troubled: number;
  locale: Workspace["locale"];
  ways: Ways;
  person: { name: string } | null;
  role: Role;
  knownAs: string;
  /** How much of all values has been looked at while types are from a sample, 0 to 1; null where they are not. */
  looked: number | null;
};
