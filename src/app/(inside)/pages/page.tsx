import { WORDS } from "@/features/pages/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { listOf } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

const SOURCES = { query: "search", report: "report", dashboard: "dashboard", pivot: "pivot", chart: "chart" } as const;

export default async function Page() {
  const ws = await signedInWorkspace();
  const { objects } = ws;
  const from = (Object.keys(SOURCES) as (keyof typeof SOURCES)[]).flatMap((kind) =>
    objects.list(kind).map(({ id, name }) => ({ id, name: `${name} (${SOURCES[kind]})`, body: { id } })),
  );
  return (
    <SavedList
      heading={COMMON.pages}
      kind="page"
      list={await listOf(ws, "page")}
      place="/pages"
      empty={WORDS.noPagesYetChooseOn}
      make={{ heading: WORDS.publish, empty: WORDS.saveAQueryReportOr, path: "/api/pages/new", from }}
    />
  );
}
