"use client";

import { StarIcon as StarOutline } from "@heroicons/react/16/solid";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import type { Recent } from "@/server/services/desk/desk";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { placeOf } from "../places";
import { useLocale } from "../workspace/locale";
import { DeskHeading } from "./DeskHeading";
import { useUnsaved } from "./unsaved";
import { WORDS } from "./words";

/** What was pinned, opened last or shared by others, and what is unsaved in this tab. */
export function Continue({ recents }: { recents: Recent[] }) {
  const locale = useLocale();
  const router = useRouter();
  const { unsaved, discard } = useUnsaved();
  const when = new Intl.DateTimeFormat(locale.locale, {
    weekday: "short",
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    timeZone: locale.zone,
  });
  const about = ({ pinned, at, sharedBy }: Recent): string => {
    if (at === null) return sharedBy ? WORDS.sharedBy(sharedBy) : WORDS.shared;
    return pinned ? WORDS.pinned(when.format(new Date(at))) : WORDS.opened(when.format(new Date(at)));
  };
  const pin = ({ kind, id, pinned }: Recent) =>
    void ask("/api/desk/pin", { object: kind === "table" ? `table:${id}` : id, pinned: !pinned }).then(
      () => router.refresh(),
      (error) => toast.error(sentenceOf(error)),
    );
  const fresh = unsaved.filter((u) => !recents.some((r) => r.id === u.id));
  return (
    <section aria-label={WORDS.continue}>
      <DeskHeading words={WORDS.continue} beside={WORDS.pinnedAndRecent} />
      {recents.length === 0 && fresh.length === 0 && <p className="pt-2 text-soft">{WORDS.nothingOpened}</p>}
      <ul>
        {fresh.map((u) => (
          <li key={u.key} className="flex items-start gap-4 border-b border-hairline py-2">
            <span className="w-20 shrink-0 text-small leading-[1.3rem] text-soft max-sm:hidden">{WORDS.kinds[u.kind]}</span>
            <span className="min-w-0 flex-1">
              <Link href={u.href} className="font-semibold text-bottle hover:underline">
                {WORDS.newOne(WORDS.kinds[u.kind].toLowerCase())}
              </Link>
              <span className="block text-small text-ochre">{WORDS.unsaved}</span>
            </span>
            <UnsavedDeeds href={u.href} discard={() => discard(u.key)} />
          </li>
        ))}
        {recents.map((r) => {
          const left = unsaved.find((u) => u.id === r.id);
          return (
            <li key={`${r.kind} ${r.id}`} className="flex items-start gap-4 border-b border-hairline py-2">
              <span className="w-20 shrink-0 text-small leading-[1.3rem] text-soft max-sm:hidden">{WORDS.kinds[r.kind]}</span>
              <span className="min-w-0 flex-1">
                <Link href={placeOf(r.kind, r.id)} className="font-semibold text-bottle hover:underline">
                  {r.name}
                </Link>
                <span className={`block text-small ${left ? "text-ochre" : "text-soft"}`}>{left ? WORDS.unsaved : about(r)}</span>
              </span>
              {left && <UnsavedDeeds href={placeOf(r.kind, r.id)} discard={() => discard(left.key)} />}
              <button
                type="button"
                className="small-button"
                aria-pressed={r.pinned}
                aria-label={r.pinned ? WORDS.unpin(r.name) : WORDS.pin(r.name)}
                title={r.pinned ? WORDS.unpin(r.name) : WORDS.pin(r.name)}
                onClick={() => pin(r)}
              >
                <StarOutline className={`size-4 ${r.pinned ? "text-ochre" : "text-rule hover:text-faint"}`} />
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** What can be done with changes that were left unsaved. */
const UnsavedDeeds = ({ href, discard }: { href: string; discard: () => void }) => (
  <span className="flex shrink-0 gap-3">
    <Link href={href} className="link">
      {WORDS.resume}
    </Link>
    <button type="button" className="link" onClick={discard}>
      {WORDS.discard}
    </button>
  </span>
);
