import { OFFERED } from "@/core/desk/listing";
import { WORDS } from "@/features/pages/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { listOf } from "@/server/services/objects/lists";

const SOURCES = { query: "search", report: "report", dashboard: "dashboard", pivot: "pivot", chart: "chart" } as const;

export default async function Page() {
  const ws = await signedInWorkspace();
  const kinds = Object.keys(SOURCES) as (keyof typeof SOURCES)[];
  const lists = await Promise.all(kinds.map(async (kind) => ({ kind, first: await listOf(ws, kind, OFFERED), words: SOURCES[kind] })));
  return (
    <SavedList
      heading={COMMON.pages}
      kind="page"
      list={await listOf(ws, "page")}
      place="/pages"
      empty={WORDS.noPagesYetChooseOn}
      make={{ heading: WORDS.publish, empty: WORDS.saveAQueryReportOr, path: "/api/pages/new", offered: { lists, key: "id" } }}
    />
  );
}
