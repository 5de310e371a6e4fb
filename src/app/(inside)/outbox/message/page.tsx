import { readFileSync } from "node:fs";
import { Failure } from "@/features/frame/Failure";
import { MessagePage } from "@/features/outbox/MessagePage";
import { WORDS } from "@/features/outbox/words";
import { readMessage } from "@/server/outbox/message";
import { outboxPath } from "@/server/outbox/outbox";
import { signedInWorkspace } from "@/server/people/signedIn";

/** A message of the outbox, read. */
export default async function Page({ searchParams }: { searchParams: Promise<{ path?: string }> }) {
  const { path = "" } = await searchParams;
  const file = outboxPath(await signedInWorkspace("analyst"), path);
  if (!file?.endsWith(".eml")) return <Failure words={WORDS.thisMessageIsNotIn} />;
  return <MessagePage message={await readMessage(readFileSync(file))} path={path} />;
}
