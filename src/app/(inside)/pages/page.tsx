import { pageSpecSchema } from "@/core/page/spec";
import { WORDS } from "@/features/pages/words";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { datesOf } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

const SOURCES = { query: "search", report: "report", dashboard: "dashboard", pivot: "pivot", chart: "chart" } as const;

export default async function Page() {
  const ws = await signedInWorkspace();
  const { objects } = ws;
  const items = objects.list("page").map(({ id, name, spec }) => {
    const page = pageSpecSchema.safeParse(spec).data;
    const about = page
      ? `${page.subject.kind}, ${page.open ? WORDS.publishedOne : WORDS.notPublished}${page.ends ? WORDS.until(page.ends) : ""}`
      : COMMON.unreadable;
    return { id, name, about, wrong: !page };
  });
  const from = (Object.keys(SOURCES) as (keyof typeof SOURCES)[]).flatMap((kind) =>
    objects.list(kind).map(({ id, name }) => ({ id, name: `${name} (${SOURCES[kind]})`, body: { id } })),
  );
  return (
    <SavedList
      heading={COMMON.pages}
      items={items}
      dates={datesOf(ws, "page")}
      place="/pages"
      empty={WORDS.noPagesYetChooseOn}
      make={{ heading: WORDS.publish, empty: WORDS.saveAQueryReportOr, path: "/api/pages/new", from }}
    />
  );
}
