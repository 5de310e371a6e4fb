import { WORDS } from "@/features/letters/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { listOf, sourcesOf } from "@/server/services/objects/lists";

export default async function Page() {
  const ws = await signedInWorkspace();
  const [list, sources] = await Promise.all([listOf(ws, "letter"), sourcesOf(ws)]);
  return (
    <SavedList
      heading={COMMON.letters}
      kind="letter"
      list={list}
      place="/letters"
      empty={WORDS.noLettersYetChooseA}
      make={{
        heading: WORDS.newLetterFromAQuery,
        empty: WORDS.saveAQueryFirstEach,
        path: "/api/letters/new",
        ...sources,
      }}
    />
  );
}
