import { JobFailure } from "@/server/source/failures";

type Flight = { answer: Promise<unknown>; waiting: number; abort: AbortController; keepMs: number };

/**
 * Work that several ask for at once, done once: fifty viewers of one figure are one query. Nothing is kept beyond the
 * answer, but for who is about to ask for it; the work is stopped when nobody waits for it any more.
 */
export class SharedWork {
  private readonly flights = new Map<string, Flight>();

  /**
   * @param key all that the answer depends on, the state of the data too: what is asked after a change is never
   *   answered from before it
   * @param keepMs how long the answer is kept once it is there, for somebody who is about to ask the same
   * @throws JobFailure stopped, where the caller's own signal aborts; else what the work throws
   */
  async run<T>(key: string, signal: AbortSignal | undefined, work: (signal: AbortSignal) => Promise<T>, keepMs = 0): Promise<T> {
    if (signal?.aborted) throw new JobFailure("stopped");
    const flight = this.flights.get(key) ?? this.begin(key, work);
    flight.waiting++;
    flight.keepMs = Math.max(flight.keepMs, keepMs);
    return new Promise<T>((resolve, reject) => {
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
          resolve(answer as T);
        },
        (error) => {
          signal?.removeEventListener("abort", leave);
          reject(error);
        },
      );
    });
  }

  private begin<T>(key: string, work: (signal: AbortSignal) => Promise<T>): Flight {
    const abort = new AbortController();
    const answer = work(abort.signal);
    const flight: Flight = { answer, waiting: 0, abort, keepMs: 0 };
    this.flights.set(key, flight);
    const end = () => this.flights.get(key) === flight && this.flights.delete(key);
    answer.then(() => (flight.keepMs > 0 ? setTimeout(end, flight.keepMs).unref() : end()), end);
    return flight;
  }
}
