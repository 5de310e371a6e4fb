import type { Engine } from "./engine";
import { type Job, JobFailure, type JobResult } from "./jobs";

type Flight = { answer: Promise<unknown>; waiting: number; abort: AbortController };

/**
 * Runs reading jobs, and lets those who ask the same of the same data while it is being worked out wait for one answer:
 * fifty viewers of one figure are one query. A job is stopped when nobody waits for it any more.
 */
export class SharedJobs {
  private readonly flights = new Map<string, Flight>();

  constructor(private readonly engine: Engine) {}

  /** @param stamp of the data: what is asked after a change is never answered from before it */
  async run<K extends "pivot" | "chart" | "rows" | "singles">(
    job: Extract<Job, { kind: K }>,
    stamp: string,
    { client, signal }: { client: string; signal?: AbortSignal | undefined },
  ): Promise<JobResult[K]> {
    if (signal?.aborted) throw new JobFailure("stopped");
    const key = `${stamp} ${JSON.stringify(job)}`;
    const flight = this.flights.get(key) ?? this.begin(key, job, client);
    flight.waiting++;
    return new Promise<JobResult[K]>((resolve, reject) => {
      const leave = () => {
        if (--flight.waiting === 0) {
          this.flights.delete(key);
          flight.abort.abort();
        }
        reject(new JobFailure("stopped"));
      };
      signal?.addEventListener("abort", leave, { once: true });
      flight.answer.then(
        (answer) => {
          signal?.removeEventListener("abort", leave);
          resolve(answer as JobResult[K]);
        },
        (error) => {
          signal?.removeEventListener("abort", leave);
          reject(error);
        },
      );
    });
  }

  private begin(key: string, job: Job, client: string): Flight {
    const abort = new AbortController();
    const answer: Promise<unknown> = this.engine.run(job as Extract<Job, { kind: "rows" }>, { client, signal: abort.signal });
    const flight: Flight = { answer, waiting: 0, abort };
    this.flights.set(key, flight);
    answer.catch(() => {}).finally(() => this.flights.get(key) === flight && this.flights.delete(key));
    return flight;
  }
}
