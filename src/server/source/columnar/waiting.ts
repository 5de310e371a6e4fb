import { join } from "node:path";
import type { Cell } from "@/core/types/valueType";
import { Bridge } from "../bridge";
import { JobFailure } from "../failures";
import type { AskedOfCopy, FoundInCopy } from "./thread";

let bridge: Bridge<AskedOfCopy, FoundInCopy> | null = null;

/**
 * What the copy answers a statement, waited for where it is asked.
 * @returns null where it does not answer, or with more rows than are asked for at most
 * @throws JobFailure where the statement cannot be answered at all
 */
export function rowsOfCopy(asked: AskedOfCopy): Cell[][] | null {
  bridge ??= new Bridge(join(process.cwd(), "dist/copy-thread.mjs"), {});
  const found = bridge.ask(asked);
  if (found === null || "rows" in found) return found?.rows ?? null;
  throw new JobFailure(found.failure);
}
