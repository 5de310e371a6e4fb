import { Failure } from "@/features/frame/Failure";
import { TableList } from "@/features/tables/TableList";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  const schema = await (await signedInWorkspace("analyst")).shownSchema().catch((error: unknown) => error as Error);
  return schema instanceof Error ? <Failure words={schema.message} /> : <TableList schema={schema} />;
}
