import type { Metadata } from "next";
import { OutboxPage } from "@/features/outbox/OutboxPage";
import { listOutbox } from "@/server/outbox/outbox";
import { workspace } from "@/server/workspace/workspace";

export const metadata: Metadata = { title: "Outbox" };

export default function Page() {
  return <OutboxPage files={listOutbox(workspace().outbox)} />;
}
