import { WORDS } from "@/features/charts/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { listOf, sourcesOf } from "@/server/services/objects/lists";

export default async function Page() {
  const ws = await signedInWorkspace();
  const [list, sources] = await Promise.all([listOf(ws, "chart"), sourcesOf(ws)]);
  return (
    <SavedList
      heading={COMMON.charts}
      kind="chart"
      list={list}
      place="/charts"
      empty={WORDS.noChartsYetChooseA}
      make={{
        heading: WORDS.newChartFromAQuery,
        empty: WORDS.saveAQueryFirstA,
        path: "/api/charts/new",
        ...sources,
      }}
    />
  );
}
