import { describe, expect, it } from "vitest";
import { z } from "zod";
import { ProblemError } from "@/core/types/problem";
import { Refusal } from "@/server/common/refusal";
import { JobFailure } from "@/server/source/failures";
import { failureResponse } from "./handle";

const told = async (error: unknown) => {
  const response = failureResponse(error);
  const { error: body } = (await response.json()) as { error: { sentence: string; code: string } };
  return [response.status, body.code, body.sentence];
};
const withCode = (code: string, cause?: unknown) => Object.assign(new Error("library words", { cause }), { code });

describe("what a route answers where it fails", () => {
  it("is a disk without room in words, however deep in the failure that is, and by whomever it is met", async () => {
    for (const error of [
      withCode("ENOSPC"),
      withCode("SQLITE_FULL"),
      new Error("query failed", { cause: withCode("SQLITE_FULL") }),
      new JobFailure("diskFull"),
    ])
      expect(await told(error)).toEqual([507, "diskFull", expect.stringContaining("The disk is full")]);
  });
  it("is our own sentence and never a library's", async () => {
    expect(await told(new Refusal(404, "It is gone."))).toEqual([404, "refused", "It is gone."]);
    expect(await told(new JobFailure("stopped"))).toEqual([499, "stopped", "Stopped."]);
    expect(await told(new ProblemError([{ code: "tableGone", path: ["source"], detail: { table: "crate" } }]))).toEqual([
      422,
      "problem",
      expect.stringContaining("crate"),
    ]);
    const shape = z.object({ columns: z.array(z.object({ label: z.string().max(3) })) });
    const wrong = shape.safeParse({ columns: [{ label: "long" }] });
    expect(await told(wrong.error)).toEqual([400, "shape", "Invalid request: columns › 1 › label is too long or too large: 3 at most."]);
    expect((await told(withCode("ODD")))[2]).not.toContain("library words");
  });
});
