import { Refusal } from "@/server/common/refusal";
import { getting } from "@/server/http/handle";
import { logoOf } from "@/server/services/workspace/settings";

/** The company's logo: it stands on published pages and on the page for signing in, so anybody may have it. */
export const GET = getting("open", ({ ws }) => {
  const logo = logoOf(ws);
  if (!logo) throw new Refusal(404, "No logo is set.");
  return new Response(new Uint8Array(logo.bytes), {
    headers: { "content-type": logo.type, "cache-control": "public, max-age=31536000, immutable", "x-content-type-options": "nosniff" },
  });
});
