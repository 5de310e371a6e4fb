import { firstFolio } from "@/core/folio/panel";
import { folioSpecSchema } from "@/core/folio/spec";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { FolioPage } from "@/features/folio/FolioPage";
import { folioAhead } from "@/features/folio/folioAhead";
import { WORDS } from "@/features/folio/words";
import { Failure } from "@/features/frame/Failure";
import { signedInWorkspace } from "@/server/http/signedIn";
import { chosenColours } from "@/server/services/charts/service";
import { sourcesOf } from "@/server/services/dashboards/sources";
import { lettersOf } from "@/server/services/letters/service";

type Props = { params: Promise<{ name: string }>; searchParams: Promise<{ k?: string | string[]; walk?: string; at?: string }> };

/** The page of one row: `k` is its key, `walk` and `at` the sheet it was opened from and its place there. */
export default async function Page({ params, searchParams }: Props) {
  const name = decodeURIComponent((await params).name);
  const { k = [], walk = "", at = "" } = await searchParams;
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const table = schema.tables.find((t) => t.name === name);
  if (!table) return <Failure words={WORDS.noSuchTable(name)} />;
  if (table.key.length === 0) return <Failure words={WORDS.thisTableHasNoKey} />;
  const saved = ws.objects.list("folio").find((o) => o.name === name);
  const spec = saved && folioSpecSchema.safeParse(saved.spec);
  const folio = spec?.success ? spec.data : firstFolio(schema, name);
  const key = [k].flat();
  const sources = sourcesOf(ws);
  return (
    <AnswersAhead answers={await folioAhead(ws, { spec: folio, table, schema, key, sources })}>
      <FolioPage
        table={table}
        schema={schema}
        today={ws.today}
        rowKey={key}
        walk={walk}
        at={at === "" ? null : Number(at)}
        saved={{ id: saved?.id ?? null, spec: folio, revision: saved?.revision ?? 0 }}
        sources={sources}
        colours={chosenColours(ws)}
        letters={lettersOf(ws, name)}
      />
    </AnswersAhead>
  );
}
