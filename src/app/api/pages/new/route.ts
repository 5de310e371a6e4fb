import { z } from "zod";
import { firstSearch } from "@/core/page/search";
import type { PageSpec } from "@/core/page/spec";
import { WORDS } from "@/features/pages/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";
import { savedQuery } from "@/server/services/queries/saved";
import { planOf } from "@/server/services/queries/service";

/** Begins a page of something saved: a search over a query, or the thing itself. It is not shown to anybody yet. */
export const POST = posting("analyst", z.object({ id: z.string() }), async ({ id }, { ws }) => {
  const saved = ws.objects.open(id);
  const page = (subject: PageSpec["subject"]): PageSpec => ({ version: 1, title: saved?.name ?? "", intro: "", subject, open: false, ends: null, embed: [] });
  const make = (subject: PageSpec["subject"]) => Response.json(ws.objects.createNumbered("page", WORDS.pageOf(saved?.name ?? ""), page(subject)));
  switch (saved?.kind) {
    case "query": {
      const { spec } = savedQuery(ws, id);
      return make(firstSearch(id, spec, (await planOf(ws, spec, {})).columns, await ws.schema()));
    }
    case "report":
    case "pivot":
    case "chart":
    case "dashboard":
      return make({ kind: saved.kind, id });
    default:
      throw new Refusal(404, WORDS.theObjectThisPageShows);
  }
});
