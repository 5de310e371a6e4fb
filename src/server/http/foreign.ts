const LOOPBACK = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;
/** Names the ledger answers to beside this machine's own; given when it is started to be reached from elsewhere. */
const NAMES = new Set((process.env.NEXT_LEDGER_HOSTS ?? "").split(",").filter(Boolean));

/** Whether a request came under another host name (a page elsewhere that had its name pointed here), or is a write from another origin. */
export function isForeign(headers: Headers): boolean {
  const host = headers.get("host") ?? "";
  const origin = headers.get("origin");
  return !(LOOPBACK.test(host) || NAMES.has(host)) || (origin !== null && !isOrigin(origin, host));
}

export const FOREIGN_WORDS = "Next Ledger does not accept requests for this host or from this page. Check how it was started.";

function isOrigin(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}
