import { WORDS } from "@/features/pivots/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { listOf, sourcesOf } from "@/server/services/objects/lists";

export default async function Page() {
  const ws = await signedInWorkspace();
  const [list, sources] = await Promise.all([listOf(ws, "pivot"), sourcesOf(ws)]);
  return (
    <SavedList
      heading={COMMON.pivots}
      kind="pivot"
      list={list}
      place="/pivots"
      empty={WORDS.noPivotsYetChooseA}
      make={{
        heading: WORDS.newPivotFromAQuery,
        empty: WORDS.saveAQueryFirstA,
        path: "/api/pivots/new",
        ...sources,
      }}
    />
  );
}
