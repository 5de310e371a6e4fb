import type { Metadata } from "next";
import { Failure } from "@/features/frame/Failure";
import { TableList } from "@/features/tables/TableList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/people/signedIn";

export const metadata: Metadata = { title: COMMON.tables };

export default async function Page() {
  const schema = await (await signedInWorkspace("analyst")).shownSchema().catch((error: unknown) => error as Error);
  return schema instanceof Error ? <Failure words={schema.message} /> : <TableList schema={schema} />;
}
