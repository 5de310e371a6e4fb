import { answersAhead } from "@/server/http/ahead";
import { chosenColours } from "@/server/services/charts/service";
import { alone } from "@/server/services/dashboards/tileRows";
import { openOnPage } from "@/server/services/desk/visits";
import type { Workspace } from "@/server/services/workspace/workspace";
import { AnswersAhead } from "../ahead/AnswersAhead";
import { DashboardPage } from "../dashboards/DashboardPage";
import { asksOfSaved, tilesAsked } from "../dashboards/tileAsked";
import { Failure } from "../frame/Failure";
import { WORDS } from "./words";

/** A pivot or a chart as those see it who only look: worked out as it is saved, with the rows behind its figures. */
export async function ViewAlone({ ws, id, kind }: { ws: Workspace; id: string; kind: "pivot" | "chart" }) {
  const saved = openOnPage(ws, id, kind);
  if (!saved) return <Failure words={WORDS.gone(kind)} />;
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const spec = alone(kind, id, "");
  return (
    <AnswersAhead answers={await answersAhead(ws, tilesAsked(spec, asksOfSaved(id), {}))}>
      <DashboardPage
        key={id}
        saved={{ id, name: saved.name, spec, revision: saved.revision }}
        own={{}}
        sources={{ queries: [], charts: [], pivots: [] }}
        schema={schema}
        today={ws.today}
        viewer={ws.person}
        colours={chosenColours(ws)}
        looking
      />
    </AnswersAhead>
  );
}
