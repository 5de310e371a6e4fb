import { expect } from "vitest";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { plainTiles } from "@/core/dashboard/tiles";
import type { Proof } from "@/core/proof/proof";
import { type AnswerPath, answerTo } from "@/server/http/answers";
import type { Workspace } from "@/server/services/workspace/workspace";

/* The same question to two workspaces over the same data, each read by another engine. */

const plain = (answer: unknown): unknown => (Buffer.isBuffer(answer) ? JSON.parse(answer.toString()) : answer);

/** Floating figures depend on the order in which they are added; which engine answered is another, and of which moment. */
const compared = (answer: unknown): unknown =>
  JSON.parse(
    JSON.stringify(plain(answer), (key, value) => {
      if (key === "answeredBy" || key === "asOf") return undefined;
      // Of which columns it was counted that all values fit hangs on what is known of them.
      if (key === "misfits") return Object.fromEntries(Object.entries(value).filter(([, count]) => count !== 0));
      return typeof value === "number" && !Number.isInteger(value) ? Number(value.toPrecision(9)) : value;
    }),
  );

/** What a workspace answers; a refusal in its words. */
export const answerOf = (ws: Workspace, path: AnswerPath, body: unknown): Promise<unknown> =>
  answerTo(ws, path, body, { client: "test", signal: new AbortController().signal }).then(plain, (error: Error) => ({ refused: error.message }));

/** Asks both, and expects the same answer of them: none that is refused. @returns what the other said */
export async function agree(here: Workspace, there: Workspace, name: string, path: AnswerPath, body: unknown): Promise<unknown> {
  const [own, other] = [await answerOf(here, path, body), await answerOf(there, path, body)];
  expect(own, `${name}: ${JSON.stringify(own).slice(0, 500)}`).not.toHaveProperty("refused");
  expect(compared(other), `${name} ${path}`).toEqual(compared(own));
  return other;
}

/** Asks both for every pivot, chart and tile that the first has saved, and for recounts of pivots. */
export async function agreeOnFigures(here: Workspace, there: Workspace): Promise<void> {
  for (const { name, spec } of here.catalogue.list("pivot")) {
    await agree(here, there, name, "/api/pivots", { spec, values: {} });
    await agree(here, there, name, "/api/pivots/recount", { spec, values: {} });
  }
  for (const { name, spec } of here.catalogue.list("chart")) await agree(here, there, name, "/api/charts", { spec, values: {} });
  for (const { name, spec } of here.catalogue.list("dashboard"))
    for (const { id } of plainTiles(dashboardSpecSchema.parse(spec)))
      await agree(here, there, `${name} ${id}`, "/api/dashboards/tile", { spec, tile: id, values: {} });
}

/** Asks both for the rows, the totals and the proof of every query that the first has saved. @returns the proofs as the other gave them */
export async function agreeOnQueries(here: Workspace, there: Workspace): Promise<Proof[]> {
  const proofs: Proof[] = [];
  for (const { name, spec } of here.catalogue.list("query")) {
    const question = { spec, values: {} };
    await agree(here, there, name, "/api/query/rows", { ...question, offset: 0, rows: 1000 });
    await agree(here, there, name, "/api/query/footing", question);
    proofs.push((await agree(here, there, name, "/api/query/proof", question)) as Proof);
  }
  return proofs;
}
