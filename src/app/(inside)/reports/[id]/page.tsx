import { querySpecSchema } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { Failure } from "@/features/frame/Failure";
import { firstPageAsked } from "@/features/reports/pagesAsked";
import { ReportPage } from "@/features/reports/ReportPage";
import { WORDS } from "@/features/reports/words";
import { ViewPages } from "@/features/viewing/ViewPages";
import { viewAsked } from "@/features/viewing/viewAsked";
import { madeFrom } from "@/server/catalogue/madeFrom";
import { answersAhead } from "@/server/http/ahead";
import { signedInWorkspace } from "@/server/http/signedIn";
import { openOnPage } from "@/server/services/desk/visits";
import { OWN_QUERY } from "@/server/services/queries/saved";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const { objects: catalogue } = ws;
  const saved = openOnPage(ws, (await params).id, "report");
  if (!saved) return <Failure words={WORDS.thisReportDoesNotExist} />;
  const spec = reportSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  if (ws.signedIn?.role === "viewer")
    return (
      <AnswersAhead answers={await answersAhead(ws, [viewAsked("report", saved.id, 0)])}>
        <ViewPages kind="report" id={saved.id} name={saved.name} />
      </AnswersAhead>
    );
  const named = catalogue.list("query").map(({ id, name }) => ({ id, name }));
  const isOwn = catalogue.get(spec.data.query)?.name === "";
  const queries = isOwn ? [{ id: spec.data.query, name: OWN_QUERY }, ...named] : named;
  const source = spec.data.own ? null : querySpecSchema.safeParse(catalogue.get(spec.data.query)?.spec);
  const query = source?.success ? source.data : null;
  const items = (["pivot", "chart"] as const).flatMap((kind) =>
    catalogue.list(kind).map(({ id, name, spec: of }) => ({ kind, id, name, query: madeFrom(kind, of)[0] ?? "" })),
  );
  return (
    <AnswersAhead answers={await answersAhead(ws, firstPageAsked(spec.data))}>
      <ReportPage
        key={saved.id}
        saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }}
        query={query}
        schema={await ws.schema()}
        today={ws.today}
        queries={queries}
        items={items}
      />
    </AnswersAhead>
  );
}
