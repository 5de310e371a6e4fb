import { type NextRequest, NextResponse } from "next/server";

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
  return NextResponse.next();
}
