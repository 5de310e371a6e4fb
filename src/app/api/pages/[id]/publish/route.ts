import { z } from "zod";
import { WORDS } from "@/features/pages/words";
import { Refusal } from "@/server/common/refusal";
import type { At } from "@/server/http/handle";
import { getting, posting } from "@/server/http/handle";
import { changePublication, publicationOf } from "@/server/services/pages/published";

type Context = { params: Promise<{ id: string }> };

const shape = z.object({
  passcode: z.string().min(6, WORDS.aPasscodeNeedsAtLeast).max(200).nullable().optional(),
  newAddress: z.boolean().optional(),
});

function editable({ ws }: At, id: string) {
  const saved = ws.objects.open(id);
  if (saved?.kind !== "page") throw new Refusal(404, WORDS.thisPageDoesNotExist);
  if (ws.objects.level(saved) !== "edit") throw new Refusal(403, WORDS.youCanViewThisPage);
  return saved;
}

const answer = ({ address, passcode, views }: ReturnType<typeof publicationOf>) => Response.json({ address, locked: passcode !== null, views });

/** Where a page is published, and how often it was opened. */
export async function GET(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return getting("analyst", (at) => answer(publicationOf(at.ws, editable(at, id).id)))(request);
}

/** Sets or takes away its passcode; gives it another address. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting("analyst", shape, async (change, at) => answer(await changePublication(at.ws, editable(at, id), change)))(request);
}
