"use client";

import type { Settings } from "@/core/settings/spec";
import { PageHeading } from "../workspace/PageHeading";
import { AppearanceSettings } from "./AppearanceSettings";
import { DefinitionsSettings } from "./DefinitionsSettings";
import { WorkspaceSettings } from "./WorkspaceSettings";
import { WORDS } from "./words";

/** How the screens look, for everyone; and for owners what the whole workspace is written by. */
export function SettingsPage({ settings, builds }: { settings: Settings | null /** Whether the person has definitions to take along. */; builds: boolean }) {
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-2xl gap-8 px-8 py-6">
        <PageHeading name={WORDS.settings} />
        <AppearanceSettings />
        {settings && <WorkspaceSettings settings={settings} />}
        {builds && <DefinitionsSettings />}
      </div>
    </div>
  );
}
