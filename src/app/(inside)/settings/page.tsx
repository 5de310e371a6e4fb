import type { Metadata } from "next";
import { SettingsPage } from "@/features/settings/SettingsPage";
import { WORDS } from "@/features/settings/words";
import { signedInWorkspace } from "@/server/people/signedIn";
import { settingsOf } from "@/server/workspace/settings";

export const metadata: Metadata = { title: WORDS.settings };

export default async function Page() {
  const ws = await signedInWorkspace();
  const keeps = ws.signedIn === null || ws.signedIn.role === "owner";
  return <SettingsPage settings={keeps ? settingsOf(ws) : null} />;
}
