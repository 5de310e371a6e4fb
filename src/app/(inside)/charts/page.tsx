import { WORDS } from "@/features/charts/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { listOver } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  const { queries, tables, items, dates } = await listOver(await signedInWorkspace(), "chart");
  return (
    <SavedList
      heading={COMMON.charts}
      items={items}
      dates={dates}
      place="/charts"
      empty={WORDS.noChartsYetChooseA}
      make={{
        heading: WORDS.newChartFromAQuery,
        empty: WORDS.saveAQueryFirstA,
        path: "/api/charts/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id } })),
        tables: tables.map((t) => ({ ...t, body: { table: t.id } })),
      }}
    />
  );
}
