"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import { counted } from "@/core/types/format";
import type { BrokenItem, BrokenState, MissingGroup, Replaced } from "@/server/services/desk/missing";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { placeOf } from "../places";
import { useAnswer } from "../useAnswer";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { WORDS } from "./words";

/** All that is broken, by what is missing: one choice replaces it in every item. */
export function BrokenItems({ state: { groups, others } }: { state: BrokenState }) {
  const nothing = groups.length === 0 && others.length === 0;
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-4xl gap-8 px-8 py-6">
        <div>
          <PageHeading name={WORDS.brokenItems} className="pb-1" />
          <p className={nothing ? "text-bottle" : "text-soft"}>{nothing ? WORDS.nothingBroken : WORDS.brokenItemsHelp}</p>
        </div>
        {groups.map((group) => (
          <Group key={JSON.stringify(group.missing)} group={group} />
        ))}
        {others.length > 0 && (
          <section aria-label={WORDS.brokenOtherwise}>
            <h2 className="pb-1 font-serif text-[1.125rem] font-semibold">{WORDS.brokenOtherwise}</h2>
            <ul>
              {others.map((item) => (
                <Item key={item.id} item={item} words={item.words} />
              ))}
            </ul>
          </section>
        )}
      </div>
    </div>
  );
}

function Group({ group: { missing, words, items, candidates } }: { group: MissingGroup }) {
  const router = useRouter();
  const locale = useLocale();
  const [to, setTo] = useState("");
  const { answer, failure } = useAnswer<Replaced[]>("/api/broken", to === "" ? null : { missing, to, take: false }, { settleMs: 0 });
  const preview = to === "" ? null : answer;
  const many = counted(items.length, "item", locale);
  async function replace(): Promise<void> {
    try {
      await ask("/api/broken", { missing, to, take: true });
      toast(WORDS.replacedIn(many));
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <section aria-label={words} data-missing>
      <h2 className="pb-2 font-serif text-[1.125rem] font-semibold">{WORDS.isMissing(words)}</h2>
      <div className="flex flex-wrap items-center gap-3 pb-3">
        <label className="flex items-center gap-2 text-small text-soft">
          {WORDS.useInstead}
          <select className="field w-72" aria-label={WORDS.useInsteadOf(words)} value={to} onChange={(e) => setTo(e.target.value)}>
            <option value="">–</option>
            {[true, false].map((likely) => {
              const list = candidates.filter((c) => c.likely === likely);
              return list.length === 0 ? null : (
                <optgroup key={String(likely)} label={likely ? WORDS.likely : WORDS.allOthers}>
                  {list.map((c) => (
                    <option key={c.value} value={c.value}>
                      {c.label}
                    </option>
                  ))}
                </optgroup>
              );
            })}
          </select>
        </label>
        <button type="button" className="button-primary" disabled={!preview} onClick={() => void replace()}>
          {WORDS.replaceIn(many)}
        </button>
      </div>
      {failure && <p className="text-vermilion">{failure.message}</p>}
      <ul>
        {items.map((item) => {
          const then = preview?.find((p) => p.id === item.id);
          return <Item key={item.id} item={item} words={then ? then.remaining : item.words} works={then?.remaining.length === 0} />;
        })}
      </ul>
    </section>
  );
}

/** A broken item with what is wrong, or would be still. */
function Item({ item: { id, kind, name }, words, works = false }: { item: BrokenItem; words: string[]; works?: boolean }) {
  return (
    <li className="border-t border-hairline py-2">
      <Link href={placeOf(kind, id)} className="link">
        {name}
      </Link>{" "}
      <span className="text-small text-soft">{kind}</span>
      {works && <p className="text-small font-semibold text-bottle">✓ {WORDS.wouldWork}</p>}
      {words.map((sentence) => (
        <p key={sentence} className="text-small text-ochre">
          {sentence}
        </p>
      ))}
    </li>
  );
}
