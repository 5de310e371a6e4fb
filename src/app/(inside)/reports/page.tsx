import { WORDS } from "@/features/reports/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { listOf, sourcesOf } from "@/server/services/objects/lists";

export default async function Page() {
  const ws = await signedInWorkspace();
  const [list, sources] = await Promise.all([listOf(ws, "report"), sourcesOf(ws, { values: {} })]);
  return (
    <SavedList
      heading={COMMON.reports}
      kind="report"
      list={list}
      place="/reports"
      empty={WORDS.noReportsYetChooseA}
      make={{
        heading: WORDS.newReportFromAQuery,
        empty: WORDS.saveAQueryFirstA,
        path: "/api/report/new",
        ...sources,
      }}
    />
  );
}
