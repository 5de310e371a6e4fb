import { type NextRequest, NextResponse } from "next/server";

const VIEWER = "viewer";
const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/**
 * There are no accounts yet, so the ledger answers this machine alone: requests under another host name (a page
 * elsewhere that had its name pointed here) and writes from other origins are refused.
 */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get("host") ?? "";
  const origin = request.headers.get("origin");
  const foreign = origin !== null && new URL(origin).host !== host;
  if (!LOOPBACK.test(host) || foreign) return new NextResponse("Next Ledger answers only on this machine.", { status: 403 });
  const response = NextResponse.next();
  // Until there are accounts, a viewer is a browser: what one chooses on a dashboard is not seen in another.
  if (!request.cookies.has(VIEWER)) response.cookies.set(VIEWER, crypto.randomUUID(), { httpOnly: true, sameSite: "lax", path: "/", maxAge: 34_560_000 });
  return response;
}
