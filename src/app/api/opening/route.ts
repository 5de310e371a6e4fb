import { getting } from "@/server/http/handle";

/** How far the opening of the database is, null where it is open; and how far the look at all its values. */
export const GET = getting("viewer", async ({ ws }) => {
  const share = await ws.opening();
  return Response.json({ share, look: ws.looking });
});
