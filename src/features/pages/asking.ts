import type { PageQuestion } from "@/server/pages/answer";
import { ask } from "../ask";

/** Where a page's questions go, and what goes with each: an address, a saved page, or one being built. */
export type Asking = { path: string; with: object };

/** Asks a page. @throws AskError with what the server says is wrong */
export const askPage = <T>({ path, with: more }: Asking, question: PageQuestion, signal?: AbortSignal): Promise<T> =>
  ask<T>(path, { ...more, question }, signal ? { signal } : {});
