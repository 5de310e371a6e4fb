import { firstColumns } from "@/core/query/edit";
import { startComparison } from "@/core/query/editComparison";
import { emptyQuery } from "@/core/query/empty";
import { LINK_ROWS, linkRows } from "@/core/query/linkRows";
import { capitalised } from "@/core/query/naming";
import { withoutWaiting } from "@/core/query/waiting";
import { findTable, type Schema } from "@/core/schema/schema";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { Failure } from "@/features/frame/Failure";
import { QueryPage } from "@/features/queries/QueryPage";
import { queryAhead } from "@/features/queries/queryAhead";
import { WORDS } from "@/features/queries/words";
import { signedInWorkspace } from "@/server/http/signedIn";

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | undefined>> }) {
  const { from = "", compare, link, toward, rows } = await searchParams;
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const ofLink = link === undefined ? null : linkQuery(schema, link, toward, rows);
  const source = ofLink?.spec.source ?? compare ?? from;
  const table = findTable(schema, source);
  if (!table) return <Failure words={WORDS.noSuchTable(source)} />;
  const label = capitalised(table.label);
  const begun =
    ofLink ??
    (compare === undefined
      ? { name: WORDS.newQueryName(label), spec: { ...emptyQuery(from), columns: firstColumns(schema, from) } }
      : { name: WORDS.comparedName(label), spec: startComparison(compare) });
  return (
    <AnswersAhead answers={await queryAhead(ws, schema, { spec: withoutWaiting(begun.spec), values: {} })}>
      <QueryPage key={`${source} ${begun.name}`} saved={{ id: null, ...begun, revision: 0 }} schema={schema} today={ws.today} />
    </AnswersAhead>
  );
}

/** The rows of a link's side that lead to others, to none, or to several. */
function linkQuery(schema: Schema, link: string, toward: string | undefined, rows: string | undefined) {
  const which = LINK_ROWS.find((r) => r === rows);
  const found = which && linkRows(schema, { link, toward: toward === "a" ? "a" : "b" }, which);
  return found ? { ...found, name: capitalised(found.name) } : null;
}
