import { z } from "zod";
import { type Problem, type ProblemError, sentence } from "@/core/types/problem";
import type { StaleRevision } from "@/server/catalogue/catalogue";
import type { JobFailure } from "@/server/engine/jobs";

/** What every route answers when it cannot do what was asked. */
export type ErrorBody = { error: { sentence: string; code: string; problems: (Problem & { sentence: string })[] } };

const answer = (status: number, code: string, words: string, problems: Problem[] = []): Response =>
  Response.json({ error: { sentence: words, code, problems: problems.map((p) => ({ ...p, sentence: sentence(p) })) } } satisfies ErrorBody, { status });

/** A person's own mistake, said in a sentence. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    words: string,
  ) {
    super(words);
  }
}

/** By name, not by class: Next.js bundles what starts the server apart from the routes, and each has its own copy of a class. */
const is = <T extends Error>(error: unknown, name: string): error is T => error instanceof Error && error.name === name;

const STATUS: Partial<Record<JobFailure["code"], number>> = {
  stopped: 499,
  changedSince: 409,
  refusedEdit: 422,
  reversedBefore: 409,
  columnsChanged: 409,
  noEntry: 404,
  trigger: 422,
  fileRefused: 422,
  fileGone: 404,
};

/** Turns any failure into a status and a sentence; what nobody foresaw is logged without the data it was about. */
export function failureResponse(error: unknown): Response {
  if (is<ProblemError>(error, "ProblemError")) return answer(422, "problem", error.message, error.problems);
  if (is<JobFailure>(error, "JobFailure")) return answer(STATUS[error.code] ?? 503, error.code, error.message);
  if (is<StaleRevision>(error, "StaleRevision")) return answer(409, "stale", error.message);
  if (error instanceof Refusal) return answer(error.status, "refused", error.message);
  if (error instanceof z.ZodError) return answer(400, "shape", error.issues.map((i) => `${i.path.join(" › ") || "This"}: ${i.message}`).join(" "));
  console.error(error instanceof Error ? (error.stack ?? error.message) : "unknown failure");
  return answer(500, "unforeseen", "Something failed that was not foreseen; it is in the server's log. Nothing saved was changed.");
}

/** A POST route: the body is checked against its shape, failures become sentences. */
export function posting<T>(shape: z.ZodType<T>, work: (body: T, request: Request) => Promise<Response> | Response) {
  return async (request: Request): Promise<Response> => {
    try {
      const body = shape.parse(await request.json().catch(() => null));
      return await work(body, request);
    } catch (error) {
      return failureResponse(error);
    }
  };
}

/** One line of a long work's answer: how far it is, what it came to, or why it did not. */
export type WorkLine<T> = { progress: number } | { result: T } | ErrorBody;

/** A route for long work: its answer is a line of JSON for each step forward, and one for the end. */
export async function working<T>(
  shape: z.ZodType<T>,
  request: Request,
  work: (body: T, onProgress: (share: number) => void) => Promise<unknown>,
): Promise<Response> {
  const parsed = shape.safeParse(await request.json().catch(() => null));
  if (!parsed.success) return failureResponse(parsed.error);
  const encoder = new TextEncoder();
  const lines = new ReadableStream<Uint8Array>({
    async start(controller) {
      const say = (line: WorkLine<unknown>) => controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
      try {
        say({ result: await work(parsed.data, (progress) => say({ progress })) });
      } catch (error) {
        if (!request.signal.aborted) say((await failureResponse(error).json()) as ErrorBody);
      }
      // Nobody reads on where the request was given up.
      if (!request.signal.aborted) controller.close();
    },
  });
  return new Response(lines, { headers: { "content-type": "application/x-ndjson" } });
}

/** Whose work this is: the browser window's name, so that the engine can be fair between them. */
export const clientOf = (request: Request): string => request.headers.get("x-client")?.slice(0, 40) ?? "someone";
