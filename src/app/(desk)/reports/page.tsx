import type { Metadata } from "next";
import { SavedList } from "@/features/SavedList";
import { listOver } from "@/server/catalogue/lists";
import { desk } from "@/server/people/desk";

export const metadata: Metadata = { title: "Reports" };

export default async function Page() {
  const { queries, items } = listOver(await desk(), "report");
  return (
    <SavedList
      heading="Reports"
      items={items}
      place="/reports"
      empty="No report yet. Choose a query on the right to lay out the first."
      make={{
        heading: "Lay out a query",
        empty: "Save a query first; a report prints its rows.",
        path: "/api/report/new",
        from: queries.map((q) => ({ ...q, body: { query: q.id, values: {} } })),
      }}
    />
  );
}
