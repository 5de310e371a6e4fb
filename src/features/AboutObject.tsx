"use client";

import { useRouter } from "next/navigation";
import { type ReactNode, useState } from "react";
import { toast } from "sonner";
import { SUBJECTS } from "@/core/schedule/choices";
import type { About, Related, TellVersion } from "@/server/services/objects/about";
import { ask, sentenceOf } from "./ask";
import type { Deed } from "./DeedsMenu";
import { Link } from "./Link";
import { placeOf } from "./places";
import { SidePanel } from "./SidePanel";
import { useAnswer } from "./useAnswer";
import type { SavedState } from "./useSavedObject";
import { COMMON } from "./words";
import { useLocale } from "./workspace/locale";

/** What can be done with any saved object: make it on a schedule, look at its history and use; and the panel that opens in. */
export function useAbout({ kind, stored: { id, name, revision }, restore }: SavedState): { deeds: Deed[]; panel: ReactNode } {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  if (id === null || name === "") return { deeds: [], panel: null };
  const made = SUBJECTS.some((s) => s === kind);
  return {
    deeds: [
      ...(made ? [{ words: COMMON.schedule, act: () => router.push(`/schedules?new=1&of=${id}`) }] : []),
      { words: COMMON.historyAndUse, act: () => setOpen(true) },
    ],
    panel: open && <AboutPanel key={revision} id={id} name={name} close={() => setOpen(false)} restore={restore} />,
  };
}

type Props = { id: string; name: string; close: () => void; restore: (spec: unknown) => void };

/** What an object is made from, what uses it, and what it was each time it was saved. */
function AboutPanel({ id, name, close, restore }: Props) {
  const { answer, failure } = useAnswer<About>(`/api/objects/${id}/about`, {}, { settleMs: 0, method: "GET" });
  return (
    <SidePanel title={name} close={close}>
      {failure && <p className="text-vermilion">{failure.message}</p>}
      {!answer && !failure && <p className="text-soft">{COMMON.counting}</p>}
      {answer && (
        <div className="grid gap-6">
          <Objects heading={COMMON.madeFrom} list={answer.madeFrom} none={COMMON.madeFromTables} />
          <Objects heading={COMMON.usedBy} list={answer.usedBy} none={answer.others > 0 ? "" : COMMON.usedByNothing}>
            {answer.others > 0 && <p className="text-soft">{COMMON.usedByOthers(answer.others)}</p>}
          </Objects>
          <Versions id={id} versions={answer.versions} restore={restore} close={close} />
        </div>
      )}
    </SidePanel>
  );
}

function Objects({ heading, list, none, children }: { heading: string; list: Related[]; none: string; children?: ReactNode }) {
  return (
    <section aria-label={heading}>
      <h3 className="caption pb-1">{heading}</h3>
      {list.length === 0 && none !== "" && <p className="text-soft">{none}</p>}
      <ul>
        {list.map((o) => (
          <li key={o.id} className="border-t border-hairline py-1">
            <Link href={placeOf(o.kind, o.id)} className="link">
              {o.name}
            </Link>{" "}
            <span className="text-small text-soft">{o.kind}</span>
          </li>
        ))}
      </ul>
      {children}
    </section>
  );
}

/** The versions of an object: one is shown on the page as a change that can be saved, or undone. */
function Versions({ id, versions, restore, close }: { id: string; versions: TellVersion[]; restore: (spec: unknown) => void; close: () => void }) {
  const { locale, zone } = useLocale();
  const moment = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone: zone });
  async function show({ revision, at }: TellVersion): Promise<void> {
    try {
      const { spec } = await ask<{ spec: unknown }>(`/api/objects/${id}/about?revision=${revision}`);
      restore(spec);
      close();
      toast(COMMON.versionShown(moment.format(new Date(at))));
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <section aria-label={COMMON.history}>
      <h3 className="caption pb-1">{COMMON.history}</h3>
      {versions.length === 0 && <p className="text-soft">{COMMON.noHistory}</p>}
      <ol>
        {versions.map((version, i) => (
          <li key={version.revision} className="border-t border-hairline py-1.5" data-version={version.revision}>
            <span className="flex items-baseline justify-between gap-2">
              <span>
                {moment.format(new Date(version.at))} {version.person && <span className="text-soft">{version.person}</span>}
              </span>
              {i === 0 ? (
                <span className="text-small text-soft">{COMMON.asItIsSaved}</span>
              ) : (
                <button type="button" className="link text-small" onClick={() => void show(version)}>
                  {COMMON.showThisVersion}
                </button>
              )}
            </span>
            <ul className="text-small text-soft">
              {version.changes.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </section>
  );
}
