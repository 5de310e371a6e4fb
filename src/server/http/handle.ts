import { z } from "zod";
import type { Role } from "@/core/people/roles";
import { type Problem, type ProblemError, sentence } from "@/core/types/problem";
import type { StaleRevision } from "@/server/catalogue/catalogue";
import { WORK_HEADER, workOf } from "@/server/common/progress";
import type { Refusal } from "@/server/common/refusal";
import { workspace } from "@/server/services/workspace/here";
import type { Workspace } from "@/server/services/workspace/workspace";
import { FAILURE_SENTENCES, type JobFailure } from "@/server/source/failures";
import { jsonBody } from "./body";
import { checkAccess, personOf } from "./session";

/** What every route answers when it cannot do what was asked. */
/** `detail` is what the sentence is about, where what asked goes on from it: the value that somebody else wrote. */
export type ErrorBody = { error: { sentence: string; code: string; detail?: string; problems: (Problem & { sentence: string })[] } };

function answer(status: number, code: string, words: string, problems: Problem[] = [], detail?: string): Response {
  const error = { sentence: words, code, problems: problems.map((p) => ({ ...p, sentence: sentence(p) })), ...(detail === undefined ? {} : { detail }) };
  return Response.json({ error } satisfies ErrorBody, { status });
}

/** By name, not by class: Next.js bundles what starts the server apart from the routes, and each has its own copy of a class. */
const is = <T extends Error>(error: unknown, name: string): error is T => error instanceof Error && error.name === name;

const STATUS: Partial<Record<JobFailure["code"], number>> = {
  stopped: 499,
  diskFull: 507,
  changedSince: 409,
  controlled: 409,
  postedTwice: 409,
  refusedEdit: 422,
  editClash: 409,
  reversedBefore: 409,
  columnsChanged: 409,
  noEntry: 404,
  trigger: 422,
  fileRefused: 422,
  importRefused: 422,
  shapeRefused: 422,
  fileGone: 404,
};

/** Whether a failure, or what it came of, is a disk without room. */
function isFullDisk(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause)
    if (/^(ENOSPC|EDQUOT|SQLITE_FULL|SQLITE_IOERR_WRITE)/.test(String((at as { code?: unknown }).code))) return true;
  return false;
}

/** Turns any failure into a status and a sentence; what nobody foresaw is logged without the data it was about. */
export function failureResponse(error: unknown): Response {
  if (is<ProblemError>(error, "ProblemError")) return answer(422, "problem", error.message, error.problems);
  if (is<JobFailure>(error, "JobFailure"))
    return answer(STATUS[error.code] ?? 503, error.code, error.message, [], error.code === "editClash" ? error.particulars : undefined);
  if (is<StaleRevision>(error, "StaleRevision")) return answer(409, "stale", error.message);
  if (is<Refusal>(error, "Refusal")) return answer(error.status, error.code, error.message);
  if (error instanceof z.ZodError) return answer(400, "shape", shapeWords(error));
  if (isFullDisk(error)) return answer(507, "diskFull", FAILURE_SENTENCES.diskFull);
  console.error(error instanceof Error ? (error.stack ?? error.message) : "unknown failure");
  return answer(500, "unforeseen", "Something went wrong. It is in the server log. Nothing saved was changed.");
}

/** What a description may be refused for, in our own words; what the checking library says is for programmers. */
const ISSUES: Partial<Record<z.core.$ZodIssue["code"], (issue: z.core.$ZodIssue) => string>> = {
  too_big: (i) => `is too long or too large${"maximum" in i ? `: ${String(i.maximum)} at most` : ""}`,
  too_small: (i) => `is too short or too small${"minimum" in i ? `: ${String(i.minimum)} at least` : ""}`,
  invalid_type: () => "is missing or has the wrong type",
  invalid_format: () => "has the wrong format",
  invalid_value: () => "is not an allowed value",
  invalid_union: () => "is not an allowed form",
  unrecognized_keys: () => "has unknown parts",
};

/** What is wrong with what was sent, part by part, counted from 1. A message of our own is said as it stands. */
function shapeWords(error: z.ZodError): string {
  const said = error.issues.map((issue) => {
    const own = issue.message.endsWith(".");
    const place = issue.path.map((p) => (typeof p === "number" ? String(p + 1) : String(p))).join(" › ") || "the request";
    return own ? issue.message : `${place} ${ISSUES[issue.code]?.(issue) ?? "is not valid"}.`;
  });
  return `Invalid request: ${said.join(" ")}`;
}

/** Who may use a route: anyone at all, anyone signed in, those who build, those who keep the accounts. */
export type Access = "open" | Role;

/** Whose work this is, so that the engine can be fair between people; and when it is given up. */
export type Caller = { client: string; signal: AbortSignal /** Told how far a work is that is waited for. */; onProgress?: (done: number) => void };
export type At = { ws: Workspace; request: Request; caller: Caller };

/** The ledger as the one who asks has it. @throws Refusal 401 without a session, 403 where the account may not */
export function enter(request: Request, access: Access): At {
  const house = workspace();
  const person = personOf(house, request.headers);
  if (access !== "open") checkAccess(house, person, access);
  const client = person?.id ?? request.headers.get("x-client")?.slice(0, 40) ?? "someone";
  const work = workOf(client, request.headers.get(WORK_HEADER));
  const told = work === null ? {} : { onProgress: (done: number) => house.progress.tell(work, done) };
  return { ws: person ? house.as(person) : house, request, caller: { client, signal: request.signal, ...told } };
}

/** Lets go what was told of a work that is over. */
function over({ ws, request, caller }: At): void {
  const work = workOf(caller.client, request.headers.get(WORK_HEADER));
  if (work !== null) ws.progress.over(work);
}

/** A POST route: who asks is let in, the body is checked against its shape, failures become sentences. */
export function posting<T>(access: Access, shape: z.ZodType<T>, work: (body: T, at: At) => Promise<Response> | Response) {
  return async (request: Request): Promise<Response> => {
    let at: At | undefined;
    try {
      at = enter(request, access);
      const body = shape.parse(await jsonBody(request));
      return await work(body, at);
    } catch (error) {
      return failureResponse(error);
    } finally {
      if (at) over(at);
    }
  };
}

/** A route without a body. */
export function getting(access: Access, work: (at: At) => Promise<Response> | Response) {
  return async (request: Request): Promise<Response> => {
    try {
      return await work(enter(request, access));
    } catch (error) {
      return failureResponse(error);
    }
  };
}

/** One line of a long work's answer: how far it is, what it came to, or why it did not. */
export type WorkLine<T> = { progress: number } | { result: T } | ErrorBody;

/** A route for long work: its answer is a line of JSON for each step forward, and one for the end. */
export async function working<T>(
  access: Access,
  shape: z.ZodType<T>,
  request: Request,
  work: (body: T, at: At, onProgress: (share: number) => void) => Promise<unknown>,
): Promise<Response> {
  let at: At;
  let body: T;
  try {
    at = enter(request, access);
    body = shape.parse(await jsonBody(request));
  } catch (error) {
    return failureResponse(error);
  }
  const encoder = new TextEncoder();
  const lines = new ReadableStream<Uint8Array>({
    async start(controller) {
      const say = (line: WorkLine<unknown>) => controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
      try {
        say({ result: await work(body, at, (progress) => say({ progress })) });
      } catch (error) {
        if (!request.signal.aborted) say((await failureResponse(error).json()) as ErrorBody);
      }
      // Nobody reads on where the request was given up.
      if (!request.signal.aborted) controller.close();
    },
  });
  return new Response(lines, { headers: { "content-type": "application/x-ndjson" } });
}
