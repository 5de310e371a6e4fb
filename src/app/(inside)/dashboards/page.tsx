import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { emptyDashboard } from "@/core/dashboard/tiles";
import { WORDS } from "@/features/dashboards/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { datesOf } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  const ws = await signedInWorkspace();
  const items = ws.objects.list("dashboard").map(({ id, name, spec }) => {
    const read = dashboardSpecSchema.safeParse(spec).data;
    return {
      id,
      name,
      about: read ? WORDS.tilesAndFilters(read.tiles.length, read.filters.length) : COMMON.unreadable,
      wrong: !read,
    };
  });
  return (
    <SavedList
      heading={COMMON.dashboards}
      items={items}
      dates={datesOf(ws, "dashboard")}
      place="/dashboards"
      empty={WORDS.noDashboardsYetStartAn}
      make={{
        heading: COMMON.newDashboard,
        empty: "",
        path: "/api/objects",
        from: [{ id: "empty", name: WORDS.emptyDashboard, body: { kind: "dashboard", name: COMMON.newDashboard, spec: emptyDashboard(), numbered: true } }],
      }}
    />
  );
}
