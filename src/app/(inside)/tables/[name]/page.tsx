import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { Failure } from "@/features/frame/Failure";
import { queryAhead } from "@/features/queries/queryAhead";
import { blockAsked, sheetFootingAsked } from "@/features/queries/questions";
import { allColumns } from "@/features/tables/allColumns";
import { TablePage } from "@/features/tables/TablePage";
import { WORDS } from "@/features/tables/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { noteVisit, tableVisit } from "@/server/services/desk/visits";

type Props = { params: Promise<{ name: string }>; searchParams: Promise<{ derived?: string }> };

/** A table; with `?derived=` and the id of a derived field, that one is opened to be changed. */
export default async function Page({ params, searchParams }: Props) {
  const name = decodeURIComponent((await params).name);
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const table = schema.tables.find((t) => t.name === name);
  if (!table) return <Failure words={WORDS.noSuchTable(name)} />;
  noteVisit(ws, tableVisit(name));
  const question = { spec: allColumns(table, []), values: {} };
  return (
    <AnswersAhead answers={await queryAhead(ws, schema, question, [blockAsked(question, 0), sheetFootingAsked(question)])}>
      <TablePage key={name} table={table} schema={schema} today={ws.today} derived={(await searchParams).derived} />
    </AnswersAhead>
  );
}
