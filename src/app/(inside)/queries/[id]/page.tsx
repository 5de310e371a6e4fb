import { headers } from "next/headers";
import { valuesOfAddress } from "@/core/query/address";
import { querySpecSchema } from "@/core/query/spec";
import { withoutWaiting } from "@/core/query/waiting";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { Failure } from "@/features/frame/Failure";
import { InsidePage } from "@/features/pages/InsidePage";
import { insideAhead } from "@/features/pages/insideAhead";
import { QueryPage } from "@/features/queries/QueryPage";
import { queryAhead } from "@/features/queries/queryAhead";
import { WORDS } from "@/features/queries/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { openOnPage } from "@/server/services/desk/visits";
import { lastValues } from "@/server/services/queries/lastValues";

type Given = { params: Promise<{ id: string }>; searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ params, searchParams }: Given) {
  const ws = await signedInWorkspace();
  const saved = openOnPage(ws, (await params).id, "query");
  if (!saved) return <Failure words={WORDS.thisQueryDoesNotExist} />;
  if (ws.signedIn?.role === "viewer") {
    const answers = await insideAhead(ws, saved.id);
    return <InsidePage id={saved.id} title={saved.name} intro="" changes={null} answers={answers} />;
  }
  const spec = querySpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const given = { ...lastValues(ws, await headers(), saved.id, spec.data), ...valuesOfAddress(await searchParams) };
  return (
    <AnswersAhead answers={await queryAhead(ws, schema, { spec: withoutWaiting(spec.data), values: given })}>
      <QueryPage
        key={saved.id}
        saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }}
        schema={schema}
        today={ws.today}
        given={given}
      />
    </AnswersAhead>
  );
}
