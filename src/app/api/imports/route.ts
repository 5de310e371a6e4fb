import { failureResponse } from "@/server/http/handle";
import { keepFile } from "@/server/import/service";
import { workspace } from "@/server/workspace/workspace";

/** A file as it comes: its name in the address, its bytes in the body. */
export async function POST(request: Request): Promise<Response> {
  try {
    const name = new URL(request.url).searchParams.get("name") ?? "file";
    return Response.json(await keepFile(workspace(), name, request.body));
  } catch (error) {
    return failureResponse(error);
  }
}
