"use client";

import { useRouter } from "next/navigation";
import { type ReactNode, useState } from "react";
import { toast } from "sonner";
import { counted, writeCount } from "@/core/types/format";
import type { Need } from "@/server/services/desk/needs";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { hasPlace, placeOf } from "../places";
import { removeLink } from "../tables/removeLink";
import { useLocale } from "../workspace/locale";
import { DeskHeading } from "./DeskHeading";
import { WORDS } from "./words";

const FEW = 6;

/** What needs a look, the most pressing first, each with its remedy; nothing but a word where nothing is wrong. */
export function Needs({ needs }: { needs: Need[] }) {
  const locale = useLocale();
  const [all, setAll] = useState(false);
  if (needs.length === 0) return <p className="pt-5 text-bottle">✓ {WORDS.nothingNeedsALook}</p>;
  const shown = all ? needs : needs.slice(0, FEW);
  return (
    <section aria-label={WORDS.needsALook}>
      <DeskHeading words={WORDS.needsALook} beside={writeCount(needs.length, locale)} strong />
      <ul>
        {shown.map((need) => (
          <NeedLine key={keyOf(need)} need={need} />
        ))}
      </ul>
      {shown.length < needs.length && (
        <button type="button" className="link pt-2" onClick={() => setAll(true)}>
          {WORDS.showAll(writeCount(needs.length, locale))}
        </button>
      )}
    </section>
  );
}

const keyOf = (need: Need): string => `${need.need} ${"id" in need ? need.id : "schedule" in need ? need.schedule : need.table}`;

/** The colour of a line: what holds up others, what is to be done when there is time. */
const edge = ({ need }: Need): string =>
  need === "held" || need === "failed" ? "border-vermilion" : need === "draft" || need === "noKey" ? "border-column" : "border-ochre";

function NeedLine({ need }: { need: Need }) {
  const locale = useLocale();
  return (
    <li className={`flex items-start gap-4 border-b border-b-hairline border-l-[3px] py-2 pl-3 ${edge(need)}`} data-need={need.need}>
      <span className="w-20 shrink-0 text-small leading-[1.3rem] text-soft max-sm:hidden">{WORDS.labels[need.need]}</span>
      <span className="min-w-0 flex-1">
        <Link href={placeOfNeed(need)} className="font-semibold text-bottle hover:underline">
          {need.name}
        </Link>
        <span className="block text-small text-soft">{aboutOf(need, (n, noun) => counted(n, noun, locale))}</span>
      </span>
      <span className="flex shrink-0 flex-wrap justify-end gap-3">
        <Remedies need={need} />
      </span>
    </li>
  );
}

/** Where what a line is about opens. */
function placeOfNeed(need: Need): string {
  switch (need.need) {
    case "held":
    case "failed":
      return "/schedules";
    case "broken":
      return placeOf(need.kind, need.id);
    case "draft":
      return placeOf("posting", need.id);
    case "link":
    case "flagged":
    case "noKey":
      return placeOf("table", need.table);
    case "derived":
      return `${placeOf("table", need.table)}?derived=${encodeURIComponent(need.id)}`;
    default:
      return need satisfies never;
  }
}

/** What is wrong, in a sentence. */
function aboutOf(need: Need, count: (n: number, noun: string) => string): string {
  switch (need.need) {
    case "held":
    case "failed":
    case "link":
    case "derived":
      return need.words;
    case "broken":
      return `${need.words}${need.usedBy > 0 ? WORDS.usedBy(count(need.usedBy, "object")) : ""}`;
    case "flagged":
      return WORDS.flagged(count(need.count, "value"), need.column);
    case "draft":
      return WORDS.draft;
    case "noKey":
      return WORDS.noKey;
    default:
      return need satisfies never;
  }
}

function Remedies({ need }: { need: Need }): ReactNode {
  const router = useRouter();
  const act = (work: () => Promise<unknown>) => () =>
    void work().then(
      () => {
        toast(WORDS.queued);
        router.refresh();
      },
      (error) => toast.error(sentenceOf(error)),
    );
  const go = (words: string, href: string) => (
    <Link href={href} className="link">
      {words}
    </Link>
  );
  const button = (words: string, onClick: () => void) => (
    <button type="button" className="link" onClick={onClick}>
      {words}
    </button>
  );
  switch (need.need) {
    case "held":
      return (
        <>
          {need.subject && need.subject.kind !== "posting" && hasPlace(need.subject.kind) && go(WORDS.compare, placeOf(need.subject.kind, need.subject.id))}
          {need.subject?.kind === "posting"
            ? go(WORDS.open, placeOf("posting", need.subject.id))
            : button(
                WORDS.sendAnyway,
                act(() => ask(`/api/schedules/${need.schedule}/send`, { run: need.run })),
              )}
        </>
      );
    case "failed":
      return (
        <>
          {go(WORDS.open, placeOfNeed(need))}
          {button(
            WORDS.runAgain,
            act(() => ask(`/api/schedules/${need.schedule}/run`, {})),
          )}
        </>
      );
    case "broken":
      return (
        <>
          {go(WORDS.allBroken, "/broken")}
          {go(WORDS.repair, placeOfNeed(need))}
        </>
      );
    case "draft":
      return go(WORDS.open, placeOfNeed(need));
    case "link":
      return (
        <>
          {go(WORDS.openTable, placeOfNeed(need))}
          {button(WORDS.removeLink, () => void removeLink(need.id, need.name, () => router.refresh()))}
        </>
      );
    case "derived":
      return go(WORDS.repair, placeOfNeed(need));
    case "flagged":
      return go(WORDS.seeValues, placeOfNeed(need));
    case "noKey":
      return go(WORDS.openTable, placeOfNeed(need));
    default:
      return need satisfies never;
  }
}
