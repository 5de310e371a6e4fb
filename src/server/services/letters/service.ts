import { z } from "zod";
import { PARENT } from "@/core/derive/parent";
import { forRow, planLetter } from "@/core/letter/plan";
import { type LetterSpec, letterSpecSchema } from "@/core/letter/spec";
import { comparisonsIn } from "@/core/query/conditions";
import type { Plan } from "@/core/query/plan";
import { parameterValuesSchema, type QuerySpec, querySpecSchema } from "@/core/query/spec";
import { ProblemError } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import { Refusal } from "@/server/common/refusal";
import type { LetterSurvey } from "@/server/jobs/letters/run";
import type { FileResult, LetterFile, LetterJob } from "@/server/jobs/work";
import { savedQuery } from "@/server/services/queries/saved";
import { footingOfPlan, planOf } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";

/** A question about a letter; `key` keeps it to one row of its table, by that row's key. */
export const letterQuestionSchema = z.object({
  spec: letterSpecSchema,
  values: parameterValuesSchema.optional(),
  key: z.array(z.string().max(2000)).max(20).optional(),
});
export type LetterQuestion = z.infer<typeof letterQuestionSchema>;

type Caller = { client: string; signal?: AbortSignal | undefined; timeLimitMs?: number };

/** Letters made ready for the engine. @param query where it is not the letter's own, as where it is kept to some rows @throws ProblemError with all that stands in the way */
export async function letterJob(
  ws: Workspace,
  { spec, values = {}, key }: LetterQuestion,
  today = ws.today,
  query = savedQuery(ws, spec.query).spec,
): Promise<LetterJob> {
  const [schema, context] = [await ws.schema(), { today, values: { ...spec.parameters, ...values }, person: ws.knownAs }];
  const planned = (of: QuerySpec) => {
    const made = planLetter(spec, of, schema, context);
    if (!made.ok) throw new ProblemError(made.problems);
    return { spec, plan: made.value, query: of, schema, context, locale: ws.locale };
  };
  const all = planned(query);
  if (!key) return all;
  const narrowed = forRow(all.plan, query, key);
  if (!narrowed) throw new Refusal(422, "This letter is not for single rows of this table. Choose another.");
  return planned(narrowed);
}

/** One letter on its pages, with what its text can be made of. */
export async function letterAt(ws: Workspace, question: LetterQuestion, at: number, caller: Caller) {
  const letter = await letterJob(ws, question);
  return ws.engine.run<"letterPages">({ kind: "letterPages", database: ws.database, letter, at }, caller);
}

/** What of a table stands in the letters, and what of it stands in none. */
export type TableCheck = LetterSurvey["tables"][number] & { title: string; inTable: { rows: number; totals: Record<string, Cell> } | null };
export type LetterProof = Omit<LetterSurvey, "tables"> & { queryRows: number; tables: TableCheck[] };

/**
 * The account of all letters: that every row of the query has one, that no row of the table has two, and of each
 * table of related rows what was printed beside what there is.
 */
export async function letterProof(ws: Workspace, question: LetterQuestion, caller: Caller): Promise<LetterProof> {
  const letter = await letterJob(ws, question);
  const survey = await ws.engine.run<"letterSurvey">({ kind: "letterSurvey", database: ws.database, letter }, caller);
  const { values } = letter.context;
  const { rows: queryRows } = await footingOfPlan(ws, await planOf(ws, letter.query, values), caller);
  const tables = await Promise.all(
    survey.tables.map(async (table): Promise<TableCheck> => {
      const related = letter.plan.related.find((r) => r.id === table.id);
      const alone = related && aloneOf(related.query, letter.query);
      const inTable = alone ? await footingOfPlan(ws, await planOf(ws, alone, values), caller) : null;
      return { ...table, title: related?.title ?? "", inTable: inTable && { rows: inTable.rows, totals: inTable.totals } };
    }),
  );
  return { ...survey, queryRows, tables };
}

/** A table's query without the row it belongs to; null where its conditions name that row. */
function aloneOf(related: QuerySpec, query: QuerySpec): QuerySpec | null {
  if (comparisonsIn(related.conditions).some((c) => c.values.some((v) => v.kind === "field" && v.join === PARENT))) return null;
  const own = new Set(related.parameters.map((p) => p.name));
  return { ...related, parameters: [...related.parameters, ...query.parameters.filter((p) => !own.has(p.name))] };
}

/** Writes letters to a file: one PDF, or a ZIP with one for each row. */
export async function writeLetters(
  ws: Workspace,
  question: LetterQuestion,
  file: LetterFile,
  caller: Caller,
  today = ws.today,
  query?: QuerySpec,
): Promise<FileResult & { pages: number }> {
  const letter = await letterJob(ws, question, today, query);
  if (question.key && (await footingOfPlan(ws, await planOf(ws, letter.query, letter.context.values, today), caller)).rows === 0)
    throw new Refusal(404, "The query of this letter leaves this row out. Check its conditions.");
  return ws.engine.run<"letterFile">({ kind: "letterFile", database: ws.database, letter, file }, { timeLimitMs: 1_800_000, ...caller });
}

/** The columns a new letter's address is made of: those whose names say so. Common practice. */
const ADDRESS = [/^(name|title|company)$|name$/i, /address|street/i, /harbour|town|city|place/i, /island|county|region/i, /country/i];

/** Formulas for the lines of an address out of a query's columns. */
export const addressOf = (plan: Plan, write: (name: string) => string): string[] =>
  ADDRESS.flatMap((wanted) => {
    const found = plan.columns.find((c) => !c.hidden && c.type.kind === "text" && wanted.test(c.heading));
    return found ? [write(found.heading)] : [];
  }).filter((name, i, all) => all.indexOf(name) === i);

/** The letters that are written to the rows of a table one by one. */
export function lettersOf(ws: Workspace, table: string): { id: string; name: string; spec: LetterSpec; revision: number }[] {
  return ws.objects.list("letter").flatMap(({ id, name, spec, revision }) => {
    const letter = letterSpecSchema.safeParse(spec).data;
    const query = letter && querySpecSchema.safeParse(ws.objects.get(letter.query)?.spec).data;
    return letter && query?.source === table && !query.grouped ? [{ id, name, spec: letter, revision }] : [];
  });
}
