import { headers } from "next/headers";
import type { z } from "zod";
import { chartSpecSchema } from "@/core/chart/spec";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { querySpecSchema } from "@/core/query/spec";
import { DashboardPage } from "@/features/dashboards/DashboardPage";
import { Failure } from "@/features/shell/Failure";
import type { ObjectKind } from "@/server/catalogue/catalogue";
import { chosenColours } from "@/server/charts/service";
import { valuesOf } from "@/server/dashboards/service";
import { viewerOf } from "@/server/people/viewer";
import { workspace } from "@/server/workspace/workspace";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = workspace();
  const saved = ws.catalogue.get((await params).id);
  if (saved?.kind !== "dashboard") return <Failure words="This dashboard is gone. It may have been deleted; the list of dashboards shows what there is." />;
  const spec = dashboardSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words="This dashboard is in a form that this version cannot read. It is kept as it is." />;
  const schema = await ws.schema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const all = <S,>(kind: ObjectKind, shape: z.ZodType<S>) =>
    ws.catalogue.list(kind).flatMap(({ id, name, spec: own }) => {
      const read = shape.safeParse(own);
      return read.success ? [{ id, name, spec: read.data }] : [];
    });
  return (
    <DashboardPage
      key={saved.id}
      saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }}
      own={valuesOf(ws, viewerOf(await headers()), saved.id)}
      sources={{ queries: all("query", querySpecSchema), charts: all("chart", chartSpecSchema), pivots: all("pivot", pivotSpecSchema) }}
      schema={schema}
      today={ws.today}
      viewer={ws.person}
      colours={chosenColours(ws)}
    />
  );
}
