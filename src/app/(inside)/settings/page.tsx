import { SettingsPage } from "@/features/settings/SettingsPage";
import { signedInWorkspace } from "@/server/http/signedIn";
import { copyOf } from "@/server/services/workspace/copy";
import { settingsOf } from "@/server/services/workspace/settings";

export default async function Page() {
  const ws = await signedInWorkspace();
  const keeps = ws.signedIn === null || ws.signedIn.role === "owner";
  return <SettingsPage settings={keeps ? settingsOf(ws) : null} builds={ws.signedIn?.role !== "viewer"} copy={keeps && ws.copy ? copyOf(ws) : null} />;
}
