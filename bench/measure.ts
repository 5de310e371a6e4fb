import { fork } from "node:child_process";
import { readFileSync } from "node:fs";
import type { Job } from "../src/server/engine/protocol";

/** What was measured, beside what it is held against. */
export const report = (what: string, figure: string, aim: string): void => {
  console.log(`${what.padEnd(70)} ${figure.padStart(22)}   aim ${aim}`);
};

export const median = (times: number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? 0;
export const quantile = (times: number[], share: number): number =>
  [...times].sort((a, b) => a - b)[Math.min(times.length - 1, Math.floor(times.length * share))] ?? 0;
export const ms = (time: number): string => `${time < 10 ? time.toFixed(1) : time.toFixed(0)} ms`;

export async function timed(work: () => unknown): Promise<number> {
  const since = performance.now();
  await work();
  return performance.now() - since;
}

/** Runs one job in an engine process of its own, to see its answer, its time and the most memory it held. */
export async function alone(job: Job): Promise<{ result: unknown; time: number; peakMb: number }> {
  const child = fork("dist/engine.mjs", [], { serialization: "advanced" });
  const reply = () =>
    new Promise<Record<string, unknown>>((done) => {
      const take = (message: unknown) => {
        if (typeof message === "object" && message !== null && ("progress" in message || "begun" in message)) return;
        child.off("message", take);
        done(message as Record<string, unknown>);
      };
      child.on("message", take);
    });
  await reply();
  const since = performance.now();
  child.send(job);
  const answer = await reply();
  if ("failure" in answer) throw new Error(JSON.stringify(answer));
  const time = performance.now() - since;
  const peakMb = peakOf(child.pid as number);
  child.kill();
  return { result: answer.result, time, peakMb };
}

/** The most memory a process has held, in MB. */
export const peakOf = (pid: number): number => Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1]) / 1024;
