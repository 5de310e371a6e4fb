import { reportSpecSchema } from "@/core/report/spec";
import { LookPages } from "@/features/looking/LookPages";
import { ReportPage } from "@/features/reports/ReportPage";
import { WORDS } from "@/features/reports/words";
import { Failure } from "@/features/shell/Failure";
import { desk } from "@/server/people/desk";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await desk();
  const { objects: catalogue } = ws;
  const saved = catalogue.open((await params).id);
  if (saved?.kind !== "report") return <Failure words={WORDS.thisReportDoesNotExist} />;
  const spec = reportSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  if (ws.signedIn?.role === "viewer") return <LookPages kind="report" id={saved.id} name={saved.name} />;
  const queries = catalogue.list("query").map(({ id, name }) => ({ id, name }));
  const closings = (["pivot", "chart"] as const).flatMap((kind) => catalogue.list(kind).map(({ id, name }) => ({ kind, id, name })));
  return (
    <ReportPage key={saved.id} saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }} queries={queries} closings={closings} />
  );
}
