import type { Metadata } from "next";
import { SavedList } from "@/features/SavedList";
import { listOver } from "@/server/catalogue/lists";
import { desk } from "@/server/people/desk";

export const metadata: Metadata = { title: "Letters" };

export default async function Page() {
  const { queries, items } = listOver(await desk(), "letter");
  return (
    <SavedList
      heading="Letters"
      items={items}
      place="/letters"
      empty="No letter yet. Choose a query on the right; each of its rows gets one."
      make={{
        heading: "Write to the rows of a query",
        empty: "Save a query first; a letter is written for each of its rows.",
        path: "/api/letters/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id } })),
      }}
    />
  );
}
