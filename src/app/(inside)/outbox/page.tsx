import { OutboxPage } from "@/features/outbox/OutboxPage";
import { signedInWorkspace } from "@/server/http/signedIn";
import { KEEP_DAYS, keptDays } from "@/server/services/outbox/keep";
import { outboxGroups } from "@/server/services/outbox/outbox";

export default async function Page({ searchParams }: { searchParams: Promise<{ file?: string }> }) {
  const ws = await signedInWorkspace("analyst");
  const { file = null } = await searchParams;
  const decides = ws.signedIn === null || ws.signedIn.role === "owner";
  return <OutboxPage groups={outboxGroups(ws)} asked={file} keep={decides ? { days: keptDays(ws), choices: KEEP_DAYS } : null} />;
}
