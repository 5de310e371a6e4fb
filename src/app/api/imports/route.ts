import { getting } from "@/server/http/handle";
import { keepFile } from "@/server/import/service";

/** A file as it comes: its name in the address, its bytes in the body. */
export const POST = getting("analyst", async ({ ws, request }) =>
  Response.json(await keepFile(ws, new URL(request.url).searchParams.get("name") ?? "file", request.body)),
);
