"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { OutboxGroup } from "@/server/services/outbox/outbox";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { PageHeading } from "../workspace/PageHeading";
import { FileLists } from "./FileLists";
import { FilePreview } from "./FilePreview";
import { WORDS } from "./words";

type Props = {
  groups: OutboxGroup[];
  /** The file that is asked for by the page's address. */
  asked: string | null;
  /** How long files are kept, of the days that can be chosen; nothing for those who cannot choose. */
  keep: { days: number | null; choices: readonly (number | null)[] } | null;
};

/** The files that schedules have laid out, by run; beside them, the one chosen: what made it, and how it begins. */
export function OutboxPage({ groups, asked, keep }: Props) {
  const [chosen, setChosen] = useState(asked ?? groups[0]?.files[0]?.path ?? null);
  const shown = groups.flatMap(({ maker, files }) => files.map((file) => ({ maker, file }))).find(({ file }) => file.path === chosen);
  const choose = (path: string) => {
    setChosen(path);
    window.history.replaceState(null, "", `/outbox?file=${encodeURIComponent(path)}`);
  };
  return (
    <div className="flex h-full max-md:block max-md:overflow-auto">
      <section className="flex w-[27rem] shrink-0 flex-col overflow-auto px-6 py-4 max-[1100px]:w-80 max-md:w-auto max-md:overflow-visible">
        <div className="flex items-center gap-3 pb-3">
          <PageHeading name={COMMON.outbox} />
          {groups.length > 1 && (
            <a className="button ml-auto" href="/api/outbox/all">
              {WORDS.allFiles}
            </a>
          )}
        </div>
        {keep && <Keep {...keep} />}
        {groups.length === 0 ? <p className="text-soft">{WORDS.nothingYet}</p> : <FileLists groups={groups} chosen={chosen} choose={choose} />}
      </section>
      <aside
        aria-label={WORDS.preview}
        className="min-w-0 flex-1 overflow-auto border-l-[3px] border-double border-column px-6 py-4 max-md:overflow-visible max-md:border-l-0"
      >
        {shown ? (
          <FilePreview key={shown.file.path} {...shown} />
        ) : (
          <p className="text-soft">{chosen ? WORDS.thisFileIsNotIn : groups.length > 0 && WORDS.chooseFile}</p>
        )}
      </aside>
    </div>
  );
}

/** For how long files stay. */
function Keep({ days, choices }: NonNullable<Props["keep"]>) {
  const router = useRouter();
  async function keep(next: number | null): Promise<void> {
    try {
      await ask("/api/outbox/keep", { days: next });
      toast(WORDS.nowKept);
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <label className="flex items-center gap-2 pb-3 text-small text-soft">
      {WORDS.keep}
      <select className="field w-auto" value={String(days)} onChange={(e) => void keep(choices.find((c) => String(c) === e.target.value) ?? null)}>
        {choices.map((choice) => (
          <option key={String(choice)} value={String(choice)}>
            {choice === null ? WORDS.keepForever : WORDS.keepDays(choice)}
          </option>
        ))}
      </select>
    </label>
  );
}
