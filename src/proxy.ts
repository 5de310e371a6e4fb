import { type NextRequest, NextResponse } from "next/server";
import { FOREIGN_WORDS, isForeign } from "@/server/http/foreign";
import { pageAt } from "@/server/services/pages/published";
import { workspace } from "@/server/services/workspace/here";

const VIEWER = "viewer";

/** What is no page, and is shown within one of our own. */
const SHOWN_WITHIN = new Set(["/api/outbox/file"]);

/**
 * Requests under another host name (a page elsewhere that had its name pointed here) and writes from other origins are
 * refused. Who may do what is checked where it is done (server/http/handle.ts, server/services/people).
 */
export function proxy(request: NextRequest): NextResponse {
  if (isForeign(request.headers)) return new NextResponse(FOREIGN_WORDS, { status: 403 });
  const { pathname } = request.nextUrl;
  // Scripts are the application's own files, and those in a page that carry the number of this one answer.
  const nonce = crypto.randomUUID().replaceAll("-", "");
  // A server for development makes scripts on the fly.
  const evaluated = process.env.NODE_ENV === "development" ? " 'unsafe-eval'" : "";
  const policy = SHOWN_WITHIN.has(pathname)
    ? "script-src 'none'; frame-ancestors 'self'"
    : `script-src 'self' 'nonce-${nonce}'${evaluated}; object-src 'none'; base-uri 'self'; frame-ancestors ${framersOf(pathname)}`;
  const headers = new Headers(request.headers);
  headers.set("content-security-policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "same-origin");
  response.headers.set("content-security-policy", policy);
  if (pathname.startsWith("/api/")) response.headers.set("cache-control", "no-store");
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

/** A body that passes through here is held in memory and cut at a bound: a file on its way in does not (api/imports sees to it itself). */
export const config = { matcher: "/((?!api/imports$).*)" };
