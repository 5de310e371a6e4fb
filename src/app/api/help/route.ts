import { z } from "zod";
import { GUIDE_PAGES } from "@/core/help/guidePages";
import { getting } from "@/server/http/handle";
import { guideText } from "@/server/services/help/guide";

/** A page of the guide. */
export const GET = getting("viewer", ({ request }) => {
  const page = z.enum(GUIDE_PAGES).parse(new URL(request.url).searchParams.get("page"));
  return Response.json({ text: guideText(page) });
});
