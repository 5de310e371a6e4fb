import { reportSpecSchema } from "@/core/report/spec";
import { ReportPage } from "@/features/reports/ReportPage";
import { Failure } from "@/features/shell/Failure";
import { workspace } from "@/server/workspace/workspace";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { catalogue } = workspace();
  const saved = catalogue.get((await params).id);
  if (saved?.kind !== "report") return <Failure words="This report is gone. It may have been deleted; the list of reports shows what there is." />;
  const spec = reportSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words="This report is in a form that this version cannot read. It is kept as it is." />;
  const queries = catalogue.list("query").map(({ id, name }) => ({ id, name }));
  const closings = (["pivot", "chart"] as const).flatMap((kind) => catalogue.list(kind).map(({ id, name }) => ({ kind, id, name })));
  return (
    <ReportPage key={saved.id} saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }} queries={queries} closings={closings} />
  );
}
