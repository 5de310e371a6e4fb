import type { Metadata } from "next";
import { reportSpecSchema } from "@/core/report/spec";
import { ReportList } from "@/features/reports/ReportList";
import { workspace } from "@/server/workspace/workspace";

export const metadata: Metadata = { title: "Reports" };

export default function Page() {
  const { catalogue } = workspace();
  const queries = catalogue.list("query").map(({ id, name }) => ({ id, name }));
  const reports = catalogue.list("report").map(({ id, name, spec }) => {
    const query = reportSpecSchema.safeParse(spec).data?.query;
    return { id, name, query: queries.find((q) => q.id === query)?.name ?? null };
  });
  return <ReportList reports={reports} queries={queries} />;
}
