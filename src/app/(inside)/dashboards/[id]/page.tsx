import { headers } from "next/headers";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { DashboardPage } from "@/features/dashboards/DashboardPage";
import { asksOfSaved, tilesAsked } from "@/features/dashboards/tileAsked";
import { WORDS } from "@/features/dashboards/words";
import { Failure } from "@/features/frame/Failure";
import { answersAhead } from "@/server/http/ahead";
import { signedInWorkspace } from "@/server/http/signedIn";
import { chosenColours } from "@/server/services/charts/service";
import { valuesOf } from "@/server/services/dashboards/service";
import { sourcesOf } from "@/server/services/dashboards/sources";
import { openOnPage } from "@/server/services/desk/visits";
import { viewerOf } from "@/server/services/people/viewer";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const saved = openOnPage(ws, (await params).id, "dashboard");
  if (!saved) return <Failure words={WORDS.thisDashboardDoesNotExist} />;
  const spec = dashboardSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const own = valuesOf(ws, viewerOf(ws, await headers()), saved.id);
  const looking = ws.signedIn?.role === "viewer";
  return (
    <AnswersAhead answers={await answersAhead(ws, tilesAsked(spec.data, looking ? asksOfSaved(saved.id) : null, own))}>
      <DashboardPage
        key={saved.id}
        saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }}
        own={own}
        sources={sourcesOf(ws, spec.data)}
        schema={schema}
        today={ws.today}
        viewer={ws.person}
        colours={chosenColours(ws)}
        looking={looking}
      />
    </AnswersAhead>
  );
}
