const COOKIE = /(?:^|;\s*)viewer=([0-9a-f-]{36})(?:;|$)/;

/** Who looks: until there are accounts, the browser that asks (see proxy.ts). */
export const viewerOf = (headers: Headers): string => COOKIE.exec(headers.get("cookie") ?? "")?.[1] ?? "someone";
