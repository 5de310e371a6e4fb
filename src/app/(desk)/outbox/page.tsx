import type { Metadata } from "next";
import { OutboxPage } from "@/features/outbox/OutboxPage";
import { listOutbox } from "@/server/outbox/outbox";
import { desk } from "@/server/people/desk";

export const metadata: Metadata = { title: "Outbox" };

export default async function Page() {
  return <OutboxPage files={listOutbox(await desk("analyst"))} />;
}
