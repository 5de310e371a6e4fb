import { readFileSync } from "node:fs";
import { MessagePage } from "@/features/outbox/MessagePage";
import { WORDS } from "@/features/outbox/words";
import { Failure } from "@/features/shell/Failure";
import { readMessage } from "@/server/outbox/message";
import { outboxPath } from "@/server/outbox/outbox";
import { desk } from "@/server/people/desk";

/** A message of the outbox, read. */
export default async function Page({ searchParams }: { searchParams: Promise<{ path?: string }> }) {
  const { path = "" } = await searchParams;
  const file = outboxPath(await desk("analyst"), path);
  if (!file?.endsWith(".eml")) return <Failure words={WORDS.thisMessageIsNotIn} />;
  return <MessagePage message={await readMessage(readFileSync(file))} path={path} />;
}
