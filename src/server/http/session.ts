import type { Role } from "@/core/people/roles";
import type { Person } from "@/server/catalogue/people";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";

const COOKIE = "session";
const IN_COOKIES = /(?:^|;\s*)session=([\w-]{43})(?:;|$)/;
const RANK: Record<Role, number> = { viewer: 0, analyst: 1, owner: 2 };

/** What a browser holds of its session; undefined where it holds none, or what was never one. */
export const tokenOf = (headers: Headers): string | undefined => IN_COOKIES.exec(headers.get("cookie") ?? "")?.[1];

/** Who is signed in; null where nobody is. */
export function personOf(house: Workspace, headers: Headers): Person | null {
  const token = tokenOf(headers);
  return (token && house.people.ofSession(token)) || null;
}

/** @throws Refusal 401 where accounts exist and nobody is signed in, 403 where the account may not */
export function checkAccess(house: Workspace, person: Person | null, needed: Role): void {
  if (!person) {
    if (!house.people.any()) return;
    throw new Refusal(401, "You are not signed in, or your session has ended. Sign in again. Unsaved changes are still on this page.");
  }
  if (RANK[person.role] < RANK[needed])
    throw new Refusal(403, needed === "owner" ? "Only an owner can do this." : "Viewers cannot create or change objects. Ask an owner for another role.");
}

/** Whether what came to the server came over TLS: then the cookie is never sent otherwise. */
const isSecure = (request: Request): boolean => request.headers.get("x-forwarded-proto") === "https" || new URL(request.url).protocol === "https:";

/** The header that gives a browser its session, or takes it away. Scripts cannot read it, other sites cannot send it. */
export const sessionCookie = (request: Request, token: string | null): string =>
  [
    `${COOKIE}=${token ?? ""}`,
    "Path=/",
    "HttpOnly",
    "SameSite=Lax",
    token === null ? "Max-Age=0" : "Max-Age=1209600",
    ...(isSecure(request) ? ["Secure"] : []),
  ].join("; ");
