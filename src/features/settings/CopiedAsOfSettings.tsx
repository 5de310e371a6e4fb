"use client";

import { useEffect, useState } from "react";
import { toast } from "sonner";
import { asOfWords, counted, writeCount } from "@/core/types/format";
import type { CopiedAsOfAnswer } from "@/server/services/workspace/copy";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { Group, Heading, Labelled } from "./parts";
import { WORDS } from "./words";

const PATH = "/api/copy/as-of";
/** How often it is asked how far the copy is. */
const ASK_MS = 1500;

/** The large tables of a server whose groups are read from a copy, and when that is made. */
export function CopiedAsOfSettings({ first }: { first: CopiedAsOfAnswer }) {
  const locale = useLocale();
  const [copy, setCopy] = useState(first);
  const [chosen, setChosen] = useState({ tables: first.tables, time: first.time });
  useEffect(() => {
    const timer = setInterval(() => void ask<CopiedAsOfAnswer>(PATH).then(setCopy, () => {}), ASK_MS);
    return () => clearInterval(timer);
  }, []);
  const change = (body: object, words: string) =>
    void ask<CopiedAsOfAnswer>(PATH, body).then(
      (now) => {
        setCopy(now);
        toast.success(words);
      },
      (error) => void toast.error(sentenceOf(error)),
    );
  const toggle = (name: string) =>
    setChosen((now) => ({ ...now, tables: now.tables.includes(name) ? now.tables.filter((t) => t !== name) : [...now.tables, name] }));
  return (
    <form
      aria-label={WORDS.copiedAsOf}
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        change(chosen, WORDS.saved);
      }}
    >
      <Heading words={WORDS.copiedAsOf} beside={WORDS.forEveryone} />
      <p className="text-soft">{WORDS.copiedAsOfHelp}</p>
      {copy.untold && <p className="text-ochre">{copy.untold}</p>}
      {copy.untold ? (
        <CopyState copy={copy} />
      ) : copy.among.length === 0 ? (
        <p>{WORDS.noLargeTables}</p>
      ) : (
        <>
          <Group words={WORDS.fromTheCopy}>
            <span className="grid gap-1">
              {copy.among.map(({ name, label, rows }) => (
                <span key={name} className="flex items-center gap-2">
                  <label className="flex items-center gap-2">
                    <input type="checkbox" className="accent-bottle" checked={chosen.tables.includes(name)} onChange={() => toggle(name)} />
                    {label}
                  </label>
                  <span className="text-soft">{counted(rows, "row", locale)}</span>
                </span>
              ))}
            </span>
          </Group>
          <Labelled words={WORDS.copyEachDayAt}>
            <input
              type="time"
              required
              className="field max-w-28"
              value={chosen.time}
              onChange={(e) => setChosen((now) => ({ ...now, time: e.target.value }))}
            />
          </Labelled>
          <CopyState copy={copy} />
          <div className="flex flex-wrap gap-3">
            <button type="submit" className="button-primary">
              {COMMON.save}
            </button>
            {copy.tables.length > 0 && (
              <button type="button" className="button" onClick={() => change({ again: true }, WORDS.beingCopied)}>
                {WORDS.copyNow}
              </button>
            )}
          </div>
        </>
      )}
    </form>
  );
}

function CopyState({ copy: { tables, state, failed, bytes } }: { copy: CopiedAsOfAnswer }) {
  const locale = useLocale();
  if (tables.length === 0) return <p>{WORDS.nothingCopied}</p>;
  const [held] = state?.tables ?? [];
  const rows = state?.tables.reduce((sum, t) => sum + t.rows, 0) ?? 0;
  return (
    <ul className="grid gap-1" aria-live="polite">
      {state && held && (
        <li>
          {WORDS.copiedAt(
            asOfWords(held.at, new Date(), locale),
            counted(state.tables.length, "table", locale),
            counted(rows, "row", locale),
            writeCount(Math.ceil(bytes / 1e6), locale),
          )}
        </li>
      )}
      {state?.coming ? <li>{WORDS.copying(state.coming.name, Math.floor(state.coming.share * 100))}</li> : !held && !failed && <li>{WORDS.beingCopied}</li>}
      {failed && <li className="text-ochre">{WORDS.copyAsOfFailed(failed)}</li>}
      {state?.without.map(({ name, why }) => (
        <li key={name} className="text-soft">
          {WORDS.notCopied(name, why)}
        </li>
      ))}
    </ul>
  );
}
