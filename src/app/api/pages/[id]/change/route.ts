import { posting } from "@/server/http/handle";
import { changeInside, changeQuestionSchema } from "@/server/services/pages/inside";

type Context = { params: Promise<{ id: string }> };

/** Changes a field of a row that a page finds, or removes the row: for the roles and the fields that were chosen. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return posting("viewer", changeQuestionSchema, async (change, { ws, caller: { client } }) => Response.json(await changeInside(ws, id, change, { client })))(
    request,
  );
}
