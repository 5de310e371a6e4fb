import type { FailureCode } from "@/server/source/failures";

/*
 * What a server or the way to it refuses, told in our own words. Codes of the server: PostgreSQL's manual, appendix A
 * ("PostgreSQL Error Codes"), read from memory; those of the network are Node's.
 */

type Told = { code: FailureCode; says?: (message: string) => string };

const KNOWN: [RegExp, Told][] = [
  [/^(ECONNREFUSED|ENOTFOUND|EHOSTUNREACH|ENETUNREACH|ETIMEDOUT|EAI_AGAIN)$/, { code: "noServer" }],
  [/^28/, { code: "serverPassword" }],
  [/^3D000$/, { code: "noServerDatabase" }],
  [/^42501$/, { code: "serverRights", says: (message) => message }],
  [/^(42P01|42703|3F000)$/, { code: "shapeMoved", says: (message) => message }],
  [/^22003$/, { code: "tooLarge" }],
  [/^(55P03|40P01)$/, { code: "locked" }],
  // Others wrote meanwhile what would have made it come to something else.
  [/^40001$/, { code: "changedSince" }],
  [/^25006$/, { code: "serverRights", says: (message) => message }],
  [/^57014$/, { code: "serverStopped" }],
  [/^53300$/, { code: "serverFull" }],
  [/^53100$/, { code: "serverDisk" }],
  [/^(57P0[1-5]|08\w{3}|ECONNRESET|EPIPE|25P03)$/, { code: "serverGone" }],
];

const LOST = /Connection terminated|Client has encountered a connection error|not queryable|socket (hang up|closed)/i;

/** Whether what failed is the connection. */
export const isLost = (code: string, message: string): boolean => LOST.test(message) || /^(57P0[1-5]|08\w{3}|ECONNRESET|EPIPE|25P03)$/.test(code);

/** What a refusal of the server, or of the way to it, is told as. */
export function faultOf(code: string, message: string): { code: FailureCode; particulars: string } {
  const known = KNOWN.find(([pattern]) => pattern.test(code))?.[1];
  if (known) return { code: known.code, particulars: known.says?.(message) ?? "" };
  if (/does not support SSL|certificate|self.signed|SSL|TLS/i.test(message) || /^(ERR_TLS|CERT|DEPTH_ZERO|SELF_SIGNED|UNABLE_TO)/.test(code))
    return { code: "serverTls", particulars: message };
  if (/password|SASL/i.test(message)) return { code: "serverPassword", particulars: "" };
  if (/timeout expired|timed out/i.test(message)) return { code: "noServer", particulars: "" };
  if (isLost(code, message)) return { code: "serverGone", particulars: "" };
  return { code: "sql", particulars: message };
}
