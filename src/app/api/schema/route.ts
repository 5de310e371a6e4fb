import { failureResponse } from "@/server/http/handle";
import { workspace } from "@/server/workspace/workspace";

export async function GET(): Promise<Response> {
  try {
    return Response.json(await workspace().schema());
  } catch (error) {
    return failureResponse(error);
  }
}
