import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { chosenColours } from "@/server/charts/service";
import { valuesOf } from "@/server/dashboards/service";
import type { Workspace } from "@/server/workspace/workspace";
import { BoardView } from "./BoardView";

/** The dashboard that an owner put on the desk, as its viewer has it; nothing where this version cannot read it. */
export async function DeskBoard({ ws, id, viewer }: { ws: Workspace; id: string; viewer: string }) {
  const saved = ws.objects.open(id);
  const spec = dashboardSpecSchema.safeParse(saved?.spec);
  if (!saved || !spec.success) return null;
  return (
    <div className="mt-6 border border-rule">
      <BoardView
        key={id}
        saved={{ id, name: saved.name, spec: spec.data, revision: saved.revision }}
        own={valuesOf(ws, viewer, id)}
        sources={{ queries: [], charts: [], pivots: [] }}
        schema={await ws.shownSchema()}
        today={ws.today}
        viewer={ws.person}
        colours={chosenColours(ws)}
        looking
        within
      />
    </div>
  );
}
