import type { Metadata } from "next";
import { pageSpecSchema } from "@/core/page/spec";
import { SavedList } from "@/features/SavedList";
import { desk } from "@/server/people/desk";

export const metadata: Metadata = { title: "Pages" };

const SOURCES = { query: "search", report: "report", dashboard: "dashboard", pivot: "pivot", chart: "chart" } as const;

export default async function Page() {
  const { objects } = await desk();
  const items = objects.list("page").map(({ id, name, spec }) => {
    const page = pageSpecSchema.safeParse(spec).data;
    const about = page
      ? `${page.subject.kind}, ${page.open ? "shown" : "not shown"}${page.ends ? ` until ${page.ends}` : ""}`
      : "In a form that this version cannot read.";
    return { id, name, about, wrong: !page };
  });
  const from = (Object.keys(SOURCES) as (keyof typeof SOURCES)[]).flatMap((kind) =>
    objects.list(kind).map(({ id, name }) => ({ id, name: `${name} (${SOURCES[kind]})`, body: { id } })),
  );
  return (
    <SavedList
      heading="Pages"
      items={items}
      place="/pages"
      empty="No page yet. Choose on the right what people without an account shall see."
      make={{ heading: "Publish", empty: "Save a query, a report or a dashboard first.", path: "/api/pages/new", from }}
    />
  );
}
