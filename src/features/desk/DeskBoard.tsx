import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { answersAhead } from "@/server/http/ahead";
import { chosenColours } from "@/server/services/charts/service";
import { valuesOf } from "@/server/services/dashboards/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { AnswersAhead } from "../ahead/AnswersAhead";
import { asksOfSaved, tilesAsked } from "../dashboards/tileAsked";
import { BoardView } from "./BoardView";

/** The dashboard that an owner put on the desk, as its viewer has it; nothing where this version cannot read it. */
export async function DeskBoard({ ws, id, viewer }: { ws: Workspace; id: string; viewer: string }) {
  const saved = ws.objects.open(id);
  const spec = dashboardSpecSchema.safeParse(saved?.spec);
  if (!saved || !spec.success) return null;
  const own = valuesOf(ws, viewer, id);
  return (
    <div className="mt-6 border border-rule">
      <AnswersAhead answers={await answersAhead(ws, tilesAsked(spec.data, asksOfSaved(id), own))}>
        <BoardView
          key={id}
          saved={{ id, name: saved.name, spec: spec.data, revision: saved.revision }}
          own={own}
          sources={{ queries: [], charts: [], pivots: [] }}
          schema={await ws.shownSchema()}
          today={ws.today}
          viewer={ws.person}
          colours={chosenColours(ws)}
          looking
          within
        />
      </AnswersAhead>
    </div>
  );
}
