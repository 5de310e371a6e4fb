import { emptyDashboard } from "@/core/dashboard/tiles";
import { WORDS } from "@/features/dashboards/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { listOf } from "@/server/services/objects/lists";

export default async function Page() {
  const list = await listOf(await signedInWorkspace(), "dashboard");
  return (
    <SavedList
      heading={COMMON.dashboards}
      kind="dashboard"
      list={list}
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
