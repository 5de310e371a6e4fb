"use client";

import type { Settings } from "@/core/settings/spec";
import type { CopiedAsOfAnswer, CopyAnswer } from "@/server/services/workspace/copy";
import { PageHeading } from "../workspace/PageHeading";
import { AppearanceSettings } from "./AppearanceSettings";
import { CopiedAsOfSettings } from "./CopiedAsOfSettings";
import { CopySettings } from "./CopySettings";
import { DefinitionsSettings } from "./DefinitionsSettings";
import { WorkspaceSettings } from "./WorkspaceSettings";
import { WORDS } from "./words";

type Props = {
  settings: Settings | null;
  /** Whether the person has definitions to take along. */
  builds: boolean;
  /** Of a file's copy. */
  copy: CopyAnswer | null;
  /** Of a server's. */
  asOf: CopiedAsOfAnswer | null;
};

/** How the screens look, for everyone; and for owners what the whole workspace is written by. */
export function SettingsPage({ settings, builds, copy, asOf }: Props) {
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-2xl gap-8 px-8 py-6">
        <PageHeading name={WORDS.settings} />
        <AppearanceSettings />
        {settings && <WorkspaceSettings settings={settings} />}
        {copy && <CopySettings first={copy} />}
        {asOf && <CopiedAsOfSettings first={asOf} />}
        {builds && <DefinitionsSettings />}
      </div>
    </div>
  );
}
