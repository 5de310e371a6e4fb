import { randomUUID } from "node:crypto";
import { scheduleOccurrences } from "@/core/schedule/occurrences";
import { scheduleSpecSchema } from "@/core/schedule/spec";
import type { SavedObject } from "@/server/catalogue/catalogue";
import type { Run } from "@/server/catalogue/runs";
import type { Workspace } from "@/server/services/workspace/workspace";
import { type FailureCode, isJobFailure } from "@/server/source/failures";
import { Held } from "./controls";
import { makeRun, Unsent } from "./makeRun";

const LEASE = "scheduler";
const LEASE_MS = 30_000;
const TICK_MS = 5_000;
/** A run begun later than this after it was due is marked late. */
const LATE_MS = 90_000;
/** How often a run that a process died over is begun again before it counts as failed. */
const MOST_ATTEMPTS = 3;

/** How long a run waits before it is tried again, the first time. */
const AGAIN_MS = 30_000;
/** What goes by: a process that ended, a database that somebody else holds. */
const PASSING = new Set<FailureCode>(["crashed", "locked", "occupied"]);

/**
 * Runs schedules when they are due. One process of a data folder does it at a time, by a lease; what it makes is
 * final only while it still holds it. Each due time is claimed once, by a unique key in the catalogue.
 */
export class Scheduler {
  private readonly owner = randomUUID();
  private readonly busy = new Set<string>();
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly ws: Workspace) {}

  start(): void {
    this.timer = setInterval(() => void this.tick(), TICK_MS);
    void this.tick();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.ws.catalogue.leases.release(LEASE, this.owner);
  }

  /** One look at the clock: claims what is due and begins what waits. Resolves when what it began is done. */
  async tick(): Promise<void> {
    const { catalogue } = this.ws;
    try {
      const epoch = catalogue.leases.take(LEASE, this.owner, LEASE_MS);
      if (epoch === null) return;
      for (const schedule of catalogue.list("schedule")) this.claimDue(schedule);
      const waiting = catalogue.runs.unfinished().filter((run) => !this.busy.has(run.id) && this.isTime(run));
      await Promise.all(waiting.map((run) => this.make(run, epoch)));
    } catch (error) {
      console.error("The scheduler could not look at its schedules:", error instanceof Error ? error.message : error);
    }
  }

  /** Where the lease cannot be renewed, as on a full disk, it runs out, and what is made under it is not made final. */
  private renew(): void {
    try {
      this.ws.catalogue.leases.take(LEASE, this.owner, LEASE_MS);
    } catch (error) {
      console.error("The scheduler could not renew its lease:", error instanceof Error ? error.message : error);
    }
  }

  /** A run that is to be tried again waits longer each time. */
  private isTime({ state, attempt, startedAt }: Run): boolean {
    return state !== "queued" || attempt === 0 || this.ws.now().getTime() >= startedAt.getTime() + attempt * AGAIN_MS;
  }

  /** Claims the last time a schedule was due and not dealt with; earlier ones missed while nothing ran fall together into it. */
  private claimDue(schedule: SavedObject): void {
    const spec = scheduleSpecSchema.safeParse(schedule.spec);
    if (!spec.success || spec.data.paused) return;
    const now = this.ws.now();
    const handled = this.ws.catalogue.runs.lastDue(schedule.id) ?? new Date(spec.data.since);
    const due = scheduleOccurrences(spec.data, this.ws.calendar, handled, now).at(-1);
    if (!due) return;
    this.ws.catalogue.runs.claim({ schedule: schedule.id, dueAt: due, late: now.getTime() - due.getTime() > LATE_MS, manual: false });
  }

  /** The ledger as the one whose schedule it is has it: their objects, and the rows they may see. */
  private asOwner({ owner }: SavedObject): Workspace {
    if (owner === null) return this.ws;
    const person = this.ws.people.get(owner);
    if (!person || person.blocked) throw new Error("The account of the author is blocked or deleted. Someone else has to create this schedule again.");
    return this.ws.as(person);
  }

  /** How often a run is begun: each of many that is done lets it begin once more. */
  private mostAttempts({ id }: Run): number {
    return MOST_ATTEMPTS + this.ws.catalogue.runs.items(id).filter((i) => i.state !== "waiting").length;
  }

  private async make(run: Run, epoch: number): Promise<void> {
    const { catalogue, now } = this.ws;
    const attempt = run.attempt + 1;
    this.busy.add(run.id);
    const renewing = setInterval(() => this.renew(), LEASE_MS / 3);
    const holds = () => catalogue.leases.holds(LEASE, epoch);
    const finish = (change: Partial<Run>) => holds() && catalogue.runs.update(run.id, { finishedAt: now(), ...change });
    try {
      const saved = catalogue.get(run.schedule);
      const spec = scheduleSpecSchema.safeParse(saved?.spec);
      if (!saved || !spec.success) return void finish({ state: "failed", error: "The schedule was deleted before it ran." });
      if (attempt > this.mostAttempts(run))
        return void finish({ state: "failed", error: `It started ${MOST_ATTEMPTS} times, and each time the process stopped before it was done.` });
      catalogue.runs.update(run.id, { state: "running", startedAt: now(), attempt });
      const made = await makeRun(this.asOwner(saved), run, saved.name, spec.data, holds);
      if (made) finish({ state: "done", ...made, error: null });
    } catch (error) {
      if (error instanceof Unsent) return void finish({ state: "failed", ...error.made, error: error.message });
      if (isJobFailure(error) && PASSING.has(error.code) && attempt < this.mostAttempts(run))
        return void (
          holds() &&
          catalogue.runs.update(run.id, {
            state: "queued",
            error: `${error.message} It will be tried again (attempt ${attempt} of ${this.mostAttempts(run)} so far).`,
          })
        );
      finish({ state: error instanceof Held ? "held" : "failed", error: error instanceof Error ? error.message : String(error) });
    } finally {
      clearInterval(renewing);
      this.busy.delete(run.id);
    }
  }
}

const HERE = Symbol.for("next-ledger.scheduler");
type Global = { [HERE]?: Scheduler };

/** The scheduler of this process, begun at the first call. */
export function scheduler(ws: Workspace): Scheduler {
  const here = globalThis as Global;
  if (!here[HERE]) {
    here[HERE] = new Scheduler(ws);
    here[HERE].start();
  }
  return here[HERE];
}
