import type { Metadata } from "next";
import { dashboardSpecSchema, emptyDashboard } from "@/core/dashboard/spec";
import { SavedList } from "@/features/SavedList";
import { desk } from "@/server/people/desk";

export const metadata: Metadata = { title: "Dashboards" };

export default async function Page() {
  const items = (await desk()).objects.list("dashboard").map(({ id, name, spec }) => {
    const read = dashboardSpecSchema.safeParse(spec).data;
    return {
      id,
      name,
      about: read ? `${read.tiles.length} tiles, ${read.filters.length} filters` : "In a form that this version cannot read.",
      wrong: !read,
    };
  });
  return (
    <SavedList
      heading="Dashboards"
      items={items}
      place="/dashboards"
      empty="No dashboard yet. Begin an empty one on the right."
      make={{
        heading: "Begin",
        empty: "",
        path: "/api/objects",
        from: [{ id: "empty", name: "An empty dashboard", body: { kind: "dashboard", name: "New dashboard", spec: emptyDashboard() } }],
      }}
    />
  );
}
