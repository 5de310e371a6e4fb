import { headers } from "next/headers";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { DashboardPage } from "@/features/dashboards/DashboardPage";
import { WORDS } from "@/features/dashboards/words";
import { Failure } from "@/features/frame/Failure";
import { chosenColours } from "@/server/charts/service";
import { valuesOf } from "@/server/dashboards/service";
import { sourcesOf } from "@/server/dashboards/sources";
import { openOnPage } from "@/server/desk/visits";
import { signedInWorkspace } from "@/server/people/signedIn";
import { viewerOf } from "@/server/people/viewer";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const saved = openOnPage(ws, (await params).id, "dashboard");
  if (!saved) return <Failure words={WORDS.thisDashboardDoesNotExist} />;
  const spec = dashboardSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  return (
    <DashboardPage
      key={saved.id}
      saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }}
      own={valuesOf(ws, viewerOf(ws, await headers()), saved.id)}
      sources={sourcesOf(ws, spec.data)}
      schema={schema}
      today={ws.today}
      viewer={ws.person}
      colours={chosenColours(ws)}
      looking={ws.signedIn?.role === "viewer"}
    />
  );
}
