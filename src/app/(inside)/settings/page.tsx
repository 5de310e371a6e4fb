import { SettingsPage } from "@/features/settings/SettingsPage";
import { signedInWorkspace } from "@/server/http/signedIn";
import { copiedAsOfOf, copyOf } from "@/server/services/workspace/copy";
import { settingsOf } from "@/server/services/workspace/settings";
import { isServer } from "@/server/source/postgres/address";

export default async function Page() {
  const ws = await signedInWorkspace();
  const keeps = ws.signedIn === null || ws.signedIn.role === "owner";
  const fromServer = isServer(ws.database);
  return (
    <SettingsPage
      settings={keeps ? settingsOf(ws) : null}
      builds={ws.signedIn?.role !== "viewer"}
      copy={keeps && ws.copy && !fromServer ? copyOf(ws) : null}
      asOf={keeps && fromServer ? await copiedAsOfOf(ws) : null}
    />
  );
}
