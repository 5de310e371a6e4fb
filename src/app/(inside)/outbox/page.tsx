import type { Metadata } from "next";
import { OutboxPage } from "@/features/outbox/OutboxPage";
import { COMMON } from "@/features/words";
import { listOutbox } from "@/server/outbox/outbox";
import { signedInWorkspace } from "@/server/people/signedIn";

export const metadata: Metadata = { title: COMMON.outbox };

export default async function Page() {
  return <OutboxPage files={listOutbox(await signedInWorkspace("analyst"))} />;
}
