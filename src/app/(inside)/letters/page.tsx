import { WORDS } from "@/features/letters/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { listOver } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  const { queries, tables, items, dates } = await listOver(await signedInWorkspace(), "letter");
  return (
    <SavedList
      heading={COMMON.letters}
      items={items}
      dates={dates}
      place="/letters"
      empty={WORDS.noLettersYetChooseA}
      make={{
        heading: WORDS.newLetterFromAQuery,
        empty: WORDS.saveAQueryFirstEach,
        path: "/api/letters/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id } })),
        tables: tables.map((t) => ({ ...t, body: { table: t.id } })),
      }}
    />
  );
}
