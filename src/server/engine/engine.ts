import { type ChildProcess, fork } from "node:child_process";
import { type Problem, ProblemError } from "@/core/types/problem";
import { type FailureCode, type Job, JobFailure, type JobResult } from "./jobs";

/*
 * Queries run in child processes, because SQLite's driver can be neither interrupted nor shared between threads:
 *
 *   server ── job ──▶ queue (fair between people) ──▶ child process ── result ──▶ server
 *
 * Stopping a job kills its process (3 ms) and another takes its place. One person never holds all the processes,
 * so a heavy query of one leaves a process for the next.
 */

type Options = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number | undefined; onProgress?: ((share: number) => void) | undefined };
type Waiting = { job: Job; options: Options; settle: (outcome: Outcome) => void };
type Outcome = { result: unknown } | { failure: JobFailure | ProblemError };
type Worker = { child: ChildProcess; ready: boolean; task: Waiting | null; timer: NodeJS.Timeout | null };
type Reply = { ready: true } | { progress: number } | { result: unknown } | { failure: { code: FailureCode; particulars: string } } | { problems: Problem[] };

const DEFAULT_TIME_LIMIT_MS = 120_000;
const RESTART_MS = 1_000;

function outcomeOf(reply: Exclude<Reply, { ready: true } | { progress: number }>): Outcome {
  if ("problems" in reply) return { failure: new ProblemError(reply.problems) };
  return "failure" in reply ? { failure: new JobFailure(reply.failure.code, reply.failure.particulars) } : reply;
}

export class Engine {
  private readonly workers: Worker[] = [];
  private readonly waiting: Waiting[] = [];
  private closed = false;

  /** @param size processes kept ready; at least 2, so that one person leaves one free */
  constructor(
    private readonly script: string,
    private readonly size = 3,
  ) {
    for (let i = 0; i < size; i++) this.boot();
  }

  /**
   * Runs a job in a child process.
   * @throws JobFailure with the reason: stopped, timeout, tooLarge, locked, …
   */
  run<K extends Job["kind"]>(job: Extract<Job, { kind: K }>, options: Options): Promise<JobResult[K]> {
    return new Promise((resolve, reject) => {
      if (options.signal?.aborted) return reject(new JobFailure("stopped"));
      const stop = () => this.stop(waiting);
      const waiting: Waiting = {
        job,
        options,
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
    const child = fork(this.script, [], { serialization: "advanced", stdio: ["ignore", "ignore", "inherit", "ipc"] });
    const worker: Worker = { child, ready: false, task: null, timer: null };
    child.on("message", (reply: Reply) => this.answer(worker, reply));
    child.on("exit", () => this.replace(worker));
    // A process that dies while it is being written to says so here and by its exit; the exit is dealt with.
    child.on("error", () => {});
    this.workers.push(worker);
  }

  private answer(worker: Worker, reply: Reply): void {
    if ("ready" in reply) {
      worker.ready = true;
      return this.assign();
    }
    if ("progress" in reply) return worker.task?.options.onProgress?.(reply.progress);
    this.finish(worker, outcomeOf(reply));
    this.assign();
  }

  private finish(worker: Worker, outcome: Outcome): void {
    const { task } = worker;
    if (worker.timer) clearTimeout(worker.timer);
    worker.task = null;
    worker.timer = null;
    task?.settle(outcome);
  }

  /** Lets a process go that ended or was killed, once, and brings up another; one that cannot even start is given time. */
  private replace(worker: Worker): void {
    const at = this.workers.indexOf(worker);
    if (at < 0) return;
    this.workers.splice(at, 1);
    this.finish(worker, { failure: new JobFailure("crashed") });
    if (worker.ready) this.boot();
    else setTimeout(() => this.boot(), RESTART_MS).unref();
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
      if (!next) return;
      this.waiting.splice(this.waiting.indexOf(next), 1);
      worker.task = next;
      const limit = next.options.timeLimitMs ?? DEFAULT_TIME_LIMIT_MS;
      worker.timer = setTimeout(() => this.kill(worker, "timeout"), limit);
      worker.child.send(next.job);
    }
  }

  private nextJob(): Waiting | undefined {
    const running = (client: string) => this.workers.filter((w) => w.task?.options.client === client).length;
    const allowed = this.waiting.filter((w) => running(w.options.client) < this.size - 1);
    return allowed.sort((a, b) => running(a.options.client) - running(b.options.client))[0];
  }
}
