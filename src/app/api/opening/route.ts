import { getting } from "@/server/http/handle";

/**
 * How far the opening of the database is, null where it is open; and how far the look at all its values. What that found
 * is told in names of tables and columns, which those who only look do not see.
 */
export const GET = getting("viewer", async ({ ws }) => {
  const share = await ws.opening();
  const { looking } = ws;
  return Response.json({ share, look: ws.signedIn?.role === "viewer" ? { ...looking, retyped: [] } : looking });
});
