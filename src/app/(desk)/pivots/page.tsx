import type { Metadata } from "next";
import { SavedList } from "@/features/SavedList";
import { listOver } from "@/server/catalogue/lists";
import { desk } from "@/server/people/desk";

export const metadata: Metadata = { title: "Pivots" };

export default async function Page() {
  const { queries, items } = listOver(await desk(), "pivot");
  return (
    <SavedList
      heading="Pivots"
      items={items}
      place="/pivots"
      empty="No pivot yet. Choose a query on the right to cross its fields."
      make={{
        heading: "Cross the fields of a query",
        empty: "Save a query first; a pivot is made of its rows.",
        path: "/api/pivots/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id } })),
      }}
    />
  );
}
