import { type NextRequest, NextResponse } from "next/server";
import { pageAt } from "@/server/pages/published";
import { workspace } from "@/server/workspace/workspace";

const VIEWER = "viewer";
const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
/** Names the ledger answers to beside this machine's own; given when it is started to be reached from elsewhere. */
const NAMES = new Set((process.env.NEXT_LEDGER_HOSTS ?? "").split(",").filter(Boolean));

/**
 * Requests under another host name (a page elsewhere that had its name pointed here) and writes from other origins are
 * refused. Who may do what is checked where it is done (server/http/handle.ts, server/people).
 */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get("host") ?? "";
  const origin = request.headers.get("origin");
  const foreign = origin !== null && !isOrigin(origin, host);
  if (!(LOOPBACK.test(host) || NAMES.has(host)) || foreign)
    return new NextResponse("Next Ledger does not answer under this name, or to this page. See how it was started.", { status: 403 });
  const response = NextResponse.next();
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "same-origin");
  response.headers.set("content-security-policy", `frame-ancestors ${framersOf(request.nextUrl.pathname)}`);
  // Where there are no accounts a viewer is a browser: what one chooses on a dashboard is not seen in another.
  if (!request.cookies.has(VIEWER)) response.cookies.set(VIEWER, crypto.randomUUID(), { httpOnly: true, sameSite: "lax", path: "/", maxAge: 34_560_000 });
  return response;
}

/** The sites that may show a page within their own: of a published page those it names, of any other none. */
function framersOf(path: string): string {
  const address = /^\/p\/([\w-]+)$/.exec(path)?.[1];
  if (!address) return "'none'";
  try {
    const { embed } = pageAt(workspace(), address).page;
    return embed.length > 0 ? embed.join(" ") : "'none'";
  } catch {
    return "'none'";
  }
}

function isOrigin(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}
