import type { Workspace } from "@/server/services/workspace/workspace";

const COOKIE = /(?:^|;\s*)viewer=([0-9a-f-]{36})(?:;|$)/;

/** Whose values on a dashboard these are: the signed-in person's; where there are no accounts, the browser's (see proxy.ts). */
export const viewerOf = (ws: Workspace, headers: Headers): string => ws.signedIn?.id ?? COOKIE.exec(headers.get("cookie") ?? "")?.[1] ?? "someone";
