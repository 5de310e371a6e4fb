import type { Metadata } from "next";
import { Failure } from "@/features/shell/Failure";
import { TableList } from "@/features/tables/TableList";
import { workspace } from "@/server/workspace/workspace";

export const metadata: Metadata = { title: "Tables" };

export default async function Page() {
  const schema = await workspace()
    .schema()
    .catch((error: unknown) => error as Error);
  return schema instanceof Error ? <Failure words={schema.message} /> : <TableList schema={schema} />;
}
