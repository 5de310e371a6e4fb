"use client";

import { useEffect, useState } from "react";
import { toast } from "sonner";
import { writeCount } from "@/core/types/format";
import type { CopyAnswer } from "@/server/services/workspace/copy";
import { ask, sentenceOf } from "../ask";
import { useLocale } from "../workspace/locale";
import { Heading } from "./parts";
import { WORDS } from "./words";

/** How often it is asked how far the copy is. */
const ASK_MS = 1500;

/** The copy of large tables by columns: what there is of it, and whether there is to be one. */
export function CopySettings({ first }: { first: CopyAnswer }) {
  const [copy, setCopy] = useState(first);
  useEffect(() => {
    const timer = setInterval(() => void ask<CopyAnswer>("/api/copy", undefined, { method: "GET" }).then(setCopy, () => {}), ASK_MS);
    return () => clearInterval(timer);
  }, []);
  const change = (deed: "on" | "off" | "again") =>
    void ask<CopyAnswer>("/api/copy", { change: deed }).then(setCopy, (error) => void toast.error(sentenceOf(error)));
  return (
    <section aria-label={WORDS.columnarCopy} className="grid gap-3">
      <Heading words={WORDS.columnarCopy} beside={WORDS.forEveryone} />
      <p className="text-soft">{WORDS.copyHelp}</p>
      <CopyState copy={copy} />
      <div className="flex flex-wrap gap-3">
        <button type="button" className="button" onClick={() => change(copy.on ? "off" : "on")}>
          {copy.on ? WORDS.turnCopyOff : WORDS.turnCopyOn}
        </button>
        {copy.on && copy.state && (
          <button type="button" className="button" onClick={() => change("again")}>
            {WORDS.makeCopyAgain}
          </button>
        )}
      </div>
    </section>
  );
}

function CopyState({ copy: { on, state, failed, upToDate, bytes } }: { copy: CopyAnswer }) {
  const locale = useLocale();
  if (!on) return <p>{WORDS.copyIsOff}</p>;
  if (failed) return <p className="text-ochre">{WORDS.copyFailed(failed)}</p>;
  if (!state) return <p>{WORDS.noCopy}</p>;
  const rows = state.tables.reduce((sum, t) => sum + t.rows, 0);
  return (
    <ul className="grid gap-1" aria-live="polite">
      {rows > 0 && <li>{WORDS.copied(state.tables.length, writeCount(rows, locale), writeCount(Math.ceil(bytes / 1e6), locale), upToDate)}</li>}
      {state.coming && <li>{WORDS.copying(state.coming.name, Math.floor(state.coming.share * 100))}</li>}
      {state.without.map(({ name, why }) => (
        <li key={name} className="text-soft">
          {WORDS.notCopied(name, why)}
        </li>
      ))}
    </ul>
  );
}
