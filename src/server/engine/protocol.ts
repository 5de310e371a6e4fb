import type { Problem } from "@/core/types/problem";
import type { FailureCode } from "@/server/source/failures";

/**
 * What each kind of job asks and gives. A file of jobs/kinds adds its own, by the kind's name, and does it in a child
 * process (`run`). Most name the database they are about: `database`.
 */
// biome-ignore lint/suspicious/noEmptyInterface: it is filled where kinds of jobs are
export interface Jobs {}

type Kind = keyof Jobs;
export type Job<K extends Kind = Kind> = { [Each in K]: { kind: Each } & Jobs[Each]["asks"] }[K];
export type JobResult = { [K in Kind]: Jobs[K]["gives"] };

/** How a job tells of itself while it runs: how far it is (now and then is enough), and where it is (each time). */
export type Telling = { progress: (share: number) => void; at: (place: number) => void };

/** How a kind of job is done in the child process. */
export type Run<K extends Kind> = (job: Job<K>, telling: Telling) => JobResult[K] | Promise<JobResult[K]>;

/**
 * A kind of job, as its file tells it. `holdsUpOthers`: others wait for it while it runs, as for what reads the shape of
 * the database or holds it for writing. However long it takes, it keeps its share: on a busy machine a lower one would
 * keep everybody waiting many times as long.
 */
export type JobFile = { run: Run<Kind>; holdsUpOthers?: true };

/** What a child process answers. `begun` comes before the job is done, with what its kind tells. */
export type Reply =
  | { ready: true }
  | { begun: { holdsUpOthers: boolean } }
  | { progress: number }
  | { at: number }
  | { result: unknown }
  | { failure: { code: FailureCode; particulars: string } }
  | { problems: Problem[] };
