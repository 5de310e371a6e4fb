import { briefText, queryBrief } from "@/core/brief/brief";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { pageSpecSchema } from "@/core/page/spec";
import { querySpecSchema } from "@/core/query/spec";
import { counted } from "@/core/types/format";
import type { SavedObject } from "@/server/catalogue/catalogue";
import { madeFrom } from "@/server/catalogue/madeFrom";
import type { Workspace } from "@/server/services/workspace/workspace";

/** What a list says of an object under its name; `wrong` where it needs a look. */
export type Description = { about: string; wrong: boolean };

const UNREADABLE: Description = { about: "This version cannot read it. It is kept unchanged.", wrong: true };
const said = (about: string): Description => ({ about, wrong: false });

/** How objects are described in a list: a query by its sentence, what is made from one by its name, others by what is in them. */
export async function describer(ws: Workspace): Promise<(object: SavedObject) => Description> {
  // Viewers are told nothing of how things are made; what a schema cannot be read for is said where it is opened.
  const schema = ws.signedIn?.role === "viewer" ? null : await ws.shownSchema().catch(() => null);
  return ({ kind, spec }) => {
    if (!schema) return said("");
    switch (kind) {
      case "query": {
        const query = querySpecSchema.safeParse(spec).data;
        return query ? said(briefText(queryBrief(query, schema, ws.locale))) : UNREADABLE;
      }
      case "dashboard": {
        const board = dashboardSpecSchema.safeParse(spec).data;
        return board ? said(`${counted(board.tiles.length, "tile", ws.locale)}, ${counted(board.filters.length, "filter", ws.locale)}`) : UNREADABLE;
      }
      case "page": {
        const page = pageSpecSchema.safeParse(spec).data;
        return page ? said(`${page.subject.kind}, ${page.open ? "published" : "not published"}${page.ends ? ` until ${page.ends}` : ""}`) : UNREADABLE;
      }
      default:
        return madeFromWords(ws, kind, spec);
    }
  };
}

function madeFromWords({ objects }: Workspace, kind: SavedObject["kind"], spec: unknown): Description {
  const [of] = madeFrom(kind, spec);
  const source = of === undefined ? undefined : objects.get(of);
  if (!source) return { about: "Its query was deleted. Open it to choose another.", wrong: true };
  if (source.kind === "query" && source.name === "") return said("from a query of its own");
  return said(objects.open(source.id) ? `from ${source.name}` : "from a query that is not shared with you");
}
