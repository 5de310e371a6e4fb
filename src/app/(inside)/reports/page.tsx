import { WORDS } from "@/features/reports/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { listOver } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  const { queries, tables, items, dates } = await listOver(await signedInWorkspace(), "report");
  return (
    <SavedList
      heading={COMMON.reports}
      items={items}
      dates={dates}
      place="/reports"
      empty={WORDS.noReportsYetChooseA}
      make={{
        heading: WORDS.newReportFromAQuery,
        empty: WORDS.saveAQueryFirstA,
        path: "/api/report/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id, values: {} } })),
        tables: tables.map((t) => ({ ...t, body: { table: t.id, values: {} } })),
      }}
    />
  );
}
