import { type ChildProcess, fork } from "node:child_process";
import { constants, setPriority } from "node:os";
import { ProblemError } from "@/core/types/problem";
import { type FailureCode, JobFailure } from "@/server/source/failures";
import type { Job, JobResult, Reply } from "./protocol";

/*
 * Queries run in child processes, because SQLite's driver can be neither interrupted nor shared between threads:
 *
 *   server ── job ──▶ queue (fair between people) ──▶ child process ── result ──▶ server
 *
 * Stopping a job kills its process (3 ms) and another takes its place. One person holds a few processes at most, and
 * while all are busy another is brought up, so that heavy queries of several people leave a process for the next. What
 * runs long gets a lower share of the machine. A job that finds the database locked while another of the ledger's own
 * is at work on it is begun again: only what another program locks is told.
 */

type Options = {
  client: string;
  signal?: AbortSignal | undefined;
  timeLimitMs?: number | undefined;
  onProgress?: ((share: number) => void) | undefined;
  onPlace?: ((place: number) => void) | undefined;
};
/** A job in the queue: not begun while it rests from meeting another one, nor again past `until` (ms of the machine's clock). */
type Waiting = { job: Job; options: Options; resting: boolean; until: number; settle: (outcome: Outcome) => void };
type Outcome = { result: unknown } | { failure: JobFailure | ProblemError };
/** `slowed` once its job has run long: it has a lower share from then on, and goes when the job is done. */
type Worker = { child: ChildProcess; ready: boolean; task: Waiting | null; timer: NodeJS.Timeout | null; slowing: NodeJS.Timeout | null; slowed: boolean };

const DEFAULT_TIME_LIMIT_MS = 120_000;
/** Processes beside those kept ready, brought up while all others are busy. */
const MOST_EXTRA = 5;
/** After so long a job is heavy. */
const HEAVY_MS = 2_000;

/** How long an engine that could not start waits before the next try: twice as long each time, up to a bound. */
const RESTART_MS = 1_000;
const LONGEST_RESTART_MS = 60_000;
/** After so many starts in a row that came to nothing, whoever asks is told at once. */
const MOST_STARTS = 3;

/** How long a job that met another of the ledger's own on a locked database waits before it is begun again. */
const MEETING_MS = 250;

const databaseOf = (job: Job): string | null => ("database" in job ? job.database : null);

function outcomeOf(reply: Exclude<Reply, { ready: true } | { begun: object } | { progress: number } | { at: number }>): Outcome {
  if ("problems" in reply) return { failure: new ProblemError(reply.problems) };
  return "failure" in reply ? { failure: new JobFailure(reply.failure.code, reply.failure.particulars) } : reply;
}

export class Engine {
  private readonly workers: Worker[] = [];
  private readonly waiting: Waiting[] = [];
  private closed = false;
  /** Starts in a row that came to nothing. */
  private failedStarts = 0;

  /**
   * @param size processes kept ready; at least 2, so that one person leaves one free
   * @param env what the processes find in their environment besides that of this one
   */
  constructor(
    private readonly script: string,
    private readonly size = 3,
    private readonly env: Record<string, string> = {},
  ) {
    for (let i = 0; i < size; i++) this.boot();
  }

  /**
   * Runs a job in a child process.
   * @throws JobFailure with the reason: stopped, timeout, tooLarge, locked, …
   */
  run<K extends Job["kind"]>(job: Job<K>, options: Options): Promise<JobResult[K]> {
    return new Promise((resolve, reject) => {
      if (options.signal?.aborted) return reject(new JobFailure("stopped"));
      if (this.cannotStart()) return reject(new JobFailure("noEngine"));
      const stop = () => this.stop(waiting);
      const waiting: Waiting = {
        job: job as Job,
        options,
        resting: false,
        until: Date.now() + (options.timeLimitMs ?? DEFAULT_TIME_LIMIT_MS),
        settle: (outcome) => {
          options.signal?.removeEventListener("abort", stop);
          if ("failure" in outcome) reject(outcome.failure);
          else resolve(outcome.result as JobResult[K]);
        },
      };
      options.signal?.addEventListener("abort", stop);
      this.waiting.push(waiting);
      this.assign();
    });
  }

  close(): void {
    this.closed = true;
    for (const worker of this.workers) worker.child.kill("SIGKILL");
  }

  private boot(): void {
    if (this.closed) return;
    const child = fork(this.script, [], { env: { ...process.env, ...this.env }, serialization: "advanced", stdio: ["ignore", "ignore", "inherit", "ipc"] });
    const worker: Worker = { child, ready: false, task: null, timer: null, slowing: null, slowed: false };
    child.on("message", (reply: Reply) => this.answer(worker, reply));
    child.on("exit", () => this.replace(worker));
    // A process that dies while it is being written to says so here and by its exit; the exit is dealt with.
    child.on("error", () => {});
    this.workers.push(worker);
  }

  private answer(worker: Worker, reply: Reply): void {
    if ("ready" in reply) {
      worker.ready = true;
      this.failedStarts = 0;
      return this.assign();
    }
    if ("begun" in reply) return this.begun(worker, reply.begun.holdsUpOthers);
    if ("progress" in reply) return worker.task?.options.onProgress?.(reply.progress);
    if ("at" in reply) return worker.task?.options.onPlace?.(reply.at);
    const outcome = outcomeOf(reply);
    if (this.meetsOwn(worker, outcome)) this.postpone(worker);
    else this.finish(worker, outcome);
    if (this.waiting.length === 0 || worker.slowed) this.trim(worker);
    this.assign();
  }

  /** What runs long is slowed, but for what others wait for. */
  private begun(worker: Worker, holdsUpOthers: boolean): void {
    if (worker.task && !holdsUpOthers) worker.slowing = setTimeout(() => this.slow(worker), HEAVY_MS);
  }

  /** Whether a job failed on a lock while another of the ledger's own was at work on the same database. */
  private meetsOwn(worker: Worker, outcome: Outcome): boolean {
    if (!("failure" in outcome) || !(outcome.failure instanceof JobFailure) || outcome.failure.code !== "locked") return false;
    const at = worker.task && databaseOf(worker.task.job);
    return at !== null && this.workers.some((w) => w !== worker && w.task && databaseOf(w.task.job) === at);
  }

  /** Puts a job back that met another one; where its time is over, says what keeps it. */
  private postpone(worker: Worker): void {
    const { task } = worker;
    if (!task || Date.now() >= task.until) return this.finish(worker, { failure: new JobFailure("occupied") });
    this.release(worker);
    task.resting = true;
    this.waiting.push(task);
    // Not by the clock: a timer may end a moment before the clock says so, and nothing would wake the job again.
    const wake = () => {
      task.resting = false;
      this.assign();
    };
    setTimeout(wake, MEETING_MS).unref();
  }

  private finish(worker: Worker, outcome: Outcome): void {
    const { task } = worker;
    this.release(worker);
    task?.settle(outcome);
  }

  private release(worker: Worker): void {
    if (worker.timer) clearTimeout(worker.timer);
    if (worker.slowing) clearTimeout(worker.slowing);
    worker.task = null;
    worker.timer = null;
    worker.slowing = null;
  }

  /** Lets go what is not needed: a process with a lower share, and those beyond the ones kept ready. */
  private trim(worker: Worker): void {
    const free = this.workers.filter((w) => w.ready && !w.task).length;
    if (!worker.slowed && (this.workers.length <= this.size || free < 2)) return;
    worker.child.kill("SIGKILL");
    this.workers.splice(this.workers.indexOf(worker), 1);
    while (!this.closed && this.workers.length < this.size) this.boot();
  }

  /** While every process is busy, one more is brought up for whoever comes next. */
  private keepSpare(): void {
    if (this.workers.every((w) => w.task) && this.workers.length < this.size + MOST_EXTRA) this.boot();
  }

  private slow(worker: Worker): void {
    worker.slowed = true;
    try {
      if (worker.child.pid) setPriority(worker.child.pid, constants.priority.PRIORITY_BELOW_NORMAL);
    } catch {
      // A machine that does not let a process have a lower share gives it the same as the others.
    }
  }

  /** Lets a process go that ended or was killed, once, and brings up another; one that cannot even start is given time. */
  private replace(worker: Worker): void {
    const at = this.workers.indexOf(worker);
    if (at < 0) return;
    this.workers.splice(at, 1);
    this.finish(worker, { failure: new JobFailure("crashed") });
    if (worker.ready) return this.boot();
    this.failedStarts++;
    if (this.cannotStart()) for (const waiting of this.waiting.splice(0)) waiting.settle({ failure: new JobFailure("noEngine") });
    const pause = Math.min(LONGEST_RESTART_MS, RESTART_MS * 2 ** Math.floor(this.failedStarts / this.size));
    setTimeout(() => this.boot(), pause).unref();
  }

  private cannotStart(): boolean {
    return this.failedStarts >= MOST_STARTS && this.workers.every((w) => !w.ready);
  }

  private stop(waiting: Waiting): void {
    const queued = this.waiting.indexOf(waiting);
    if (queued >= 0) {
      this.waiting.splice(queued, 1);
      return waiting.settle({ failure: new JobFailure("stopped") });
    }
    const worker = this.workers.find((w) => w.task === waiting);
    if (worker) this.kill(worker, "stopped");
  }

  private kill(worker: Worker, why: FailureCode): void {
    this.finish(worker, { failure: new JobFailure(why) });
    worker.child.kill("SIGKILL");
    this.replace(worker);
  }

  /** Gives each free process the oldest job of the person with the fewest running; nobody gets the last free one twice. */
  private assign(): void {
    for (const worker of this.workers) {
      if (worker.task || !worker.ready || !worker.child.connected) continue;
      const next = this.nextJob();
      if (!next) break;
      this.waiting.splice(this.waiting.indexOf(next), 1);
      worker.task = next;
      const limit = next.options.timeLimitMs ?? DEFAULT_TIME_LIMIT_MS;
      worker.timer = setTimeout(() => this.kill(worker, "timeout"), limit);
      worker.child.send(next.job);
    }
    this.keepSpare();
  }

  private nextJob(): Waiting | undefined {
    const running = (client: string) => this.workers.filter((w) => w.task?.options.client === client).length;
    const allowed = this.waiting.filter((w) => !w.resting && running(w.options.client) < this.size - 1);
    return allowed.sort((a, b) => running(a.options.client) - running(b.options.client))[0];
  }
}
