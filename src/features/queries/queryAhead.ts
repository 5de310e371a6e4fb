import { namesWanted } from "@/core/query/namedRows";
import { resolveQuery } from "@/core/query/resolve";
import type { Schema } from "@/core/schema/schema";
import type { Cell } from "@/core/types/valueType";
import { type Ahead, type Asked, answersAhead } from "@/server/http/ahead";
import type { SheetRows } from "@/server/services/queries/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { firstAsked, namesAsked, type Question } from "./questions";

/** The names that rows are shown by, for the rows that came. */
export async function namesAhead(ws: Workspace, schema: Schema, asked: Asked[], came: Ahead, began: number): Promise<Ahead> {
  const context = { today: ws.today, person: ws.knownAs };
  const wanted = asked.flatMap(({ path, body }) => {
    const rows = came.find((a) => a.path === path && a.path === "/api/query/rows" && a.body === JSON.stringify(body));
    if (!rows) return [];
    const { spec, values, asOf } = body as Question;
    const resolved = resolveQuery(spec, schema, { ...context, values });
    return resolved.ok ? namesWanted(resolved.value, asOf ? (rows.answer as SheetRows).rows : (rows.answer as Cell[][])) : [];
  });
  return answersAhead(
    ws,
    wanted.map((wanted) => namesAsked(wanted)),
    began,
  );
}

/** What a query's page, or a table's, has from the start. @param schema as the page has it */
export async function queryAhead(ws: Workspace, schema: Schema, question: Question, asked: Asked[] = firstAsked(question)): Promise<Ahead> {
  const began = performance.now();
  const came = await answersAhead(ws, asked, began);
  return [...came, ...(await namesAhead(ws, schema, asked, came, began))];
}
