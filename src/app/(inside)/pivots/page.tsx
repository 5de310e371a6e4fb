import { WORDS } from "@/features/pivots/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { listOver } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  const { queries, tables, items, dates } = await listOver(await signedInWorkspace(), "pivot");
  return (
    <SavedList
      heading={COMMON.pivots}
      items={items}
      dates={dates}
      place="/pivots"
      empty={WORDS.noPivotsYetChooseA}
      make={{
        heading: WORDS.newPivotFromAQuery,
        empty: WORDS.saveAQueryFirstA,
        path: "/api/pivots/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id } })),
        tables: tables.map((t) => ({ ...t, body: { table: t.id } })),
      }}
    />
  );
}
