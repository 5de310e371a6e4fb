import type { Metadata } from "next";
import { QueryList } from "@/features/queries/QueryList";
import { Failure } from "@/features/shell/Failure";
import { workspace } from "@/server/workspace/workspace";

export const metadata: Metadata = { title: "Queries" };

export default async function Page() {
  const ws = workspace();
  const schema = await ws.schema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const saved = ws.catalogue.list("query").map(({ id, name, spec, updatedAt }) => ({ id, name, spec, updatedAt: updatedAt.toISOString() }));
  return <QueryList saved={saved} schema={schema} />;
}
