"use client";

import type { Settings } from "@/core/settings/spec";
import { AppearanceSettings } from "./AppearanceSettings";
import { WorkspaceSettings } from "./WorkspaceSettings";
import { WORDS } from "./words";

/** How the screens look, for everyone; and for owners what the whole workspace is written by. */
export function SettingsPage({ settings }: { settings: Settings | null }) {
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-2xl gap-8 px-8 py-6">
        <h1 className="font-serif text-title font-semibold">{WORDS.settings}</h1>
        <AppearanceSettings />
        {settings && <WorkspaceSettings settings={settings} />}
      </div>
    </div>
  );
}
