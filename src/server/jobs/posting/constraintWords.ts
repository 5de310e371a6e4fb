import type { PostingPlan } from "@/core/posting/plan";
import type { Table } from "@/core/schema/schema";
import { ServerRefusal } from "@/server/source/postgres/bridge";
import type { ServerError } from "@/server/source/postgres/protocol";

/** What the database itself refused, in words; null where it was something else. */
export function constraintWords(error: unknown, plan: Pick<PostingPlan, "table">): string | null {
  if (error instanceof ServerRefusal) return serverWords(error.said, plan.table);
  const { code = "", message = "" } = error as { code?: string; message?: string };
  if (!code.startsWith("SQLITE_CONSTRAINT")) return null;
  const named = [...message.matchAll(/\.(\w[^,]*)/g)].map((m) => plan.table.columns.find((c) => c.name === m[1]?.trim())?.label ?? m[1]);
  if (/UNIQUE|PRIMARYKEY|ROWID/.test(code)) return `another row has the same ${named.join(" and ") || "key"}`;
  if (/NOTNULL/.test(code)) return `${named.join(", ") || "a column"} is empty`;
  if (/CHECK/.test(code)) return `a check of the table failed (${message.replace(/^CHECK constraint failed: /, "")})`;
  return message;
}

/** What a server refuses of a row. Codes: PostgreSQL's manual, appendix A, read from memory. */
function serverWords({ code, message, detail, column, constraint }: ServerError, table: Table): string | null {
  const label = (name: string) => table.columns.find((c) => c.name === name)?.label ?? name;
  if (code === "23505")
    return `another row has the same ${(/\((.*?)\)=/.exec(detail)?.[1] ?? "key")
      .split(", ")
      .map((name) => label(name.replaceAll('"', "")))
      .join(" and ")}`;
  if (code === "23502") return `${label(column) || "a column"} is empty`;
  if (code === "23514") return `a check of the table failed (${constraint})`;
  if (code === "23503") return /still referenced/.test(detail) ? "other rows lead to it" : "it leads to a row that does not exist";
  // What a column's type does not take, and what else a constraint refuses.
  return /^(22|23)/.test(code) && code !== "22003" ? message : code === "22003" ? "a number is too large for its column" : null;
}
