import { OutboxPage } from "@/features/outbox/OutboxPage";
import { KEEP_DAYS, keptDays } from "@/server/outbox/keep";
import { outboxGroups } from "@/server/outbox/outbox";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page({ searchParams }: { searchParams: Promise<{ file?: string }> }) {
  const ws = await signedInWorkspace("analyst");
  const { file = null } = await searchParams;
  const decides = ws.signedIn === null || ws.signedIn.role === "owner";
  return <OutboxPage groups={outboxGroups(ws)} asked={file} keep={decides ? { days: keptDays(ws), choices: KEEP_DAYS } : null} />;
}
