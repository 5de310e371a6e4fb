import type { Metadata } from "next";
import { SavedList } from "@/features/SavedList";
import { listOver } from "@/server/catalogue/lists";
import { desk } from "@/server/people/desk";

export const metadata: Metadata = { title: "Charts" };

export default async function Page() {
  const { queries, items } = listOver(await desk(), "chart");
  return (
    <SavedList
      heading="Charts"
      items={items}
      place="/charts"
      empty="No chart yet. Choose a query on the right to draw its figures."
      make={{
        heading: "Draw a query",
        empty: "Save a query first; a chart is drawn from its rows.",
        path: "/api/charts/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id } })),
      }}
    />
  );
}
