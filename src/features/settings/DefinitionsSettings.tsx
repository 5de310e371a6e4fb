"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { Planned } from "@/server/services/objects/definitions";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { Heading } from "./parts";
import { WORDS } from "./words";

const TONES: Record<Planned["state"], string> = { new: "text-bottle", changed: "text-ochre", same: "text-soft", unreadable: "text-vermilion" };

/** All that is saved, as a file and from one. */
export function DefinitionsSettings() {
  const router = useRouter();
  const [read, setRead] = useState<{ file: unknown; planned: Planned[] } | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);

  async function open(chosen: File | undefined): Promise<void> {
    setRead(null);
    setWrong(null);
    if (!chosen) return;
    try {
      const file: unknown = JSON.parse(await chosen.text());
      setRead({ file, planned: await ask<Planned[]>("/api/definitions", { file, take: false }) });
    } catch (error) {
      setWrong(error instanceof SyntaxError ? WORDS.noJson : sentenceOf(error));
    }
  }
  async function take(): Promise<void> {
    try {
      const { changed } = await ask<{ changed: number }>("/api/definitions", { file: read?.file, take: true });
      const missing = read?.planned.some((p) => p.missing.length > 0);
      setRead(null);
      toast(WORDS.itemsImported(changed), missing ? { duration: 30_000, action: { label: COMMON.pointElsewhere, onClick: () => router.push("/broken") } } : {});
      router.refresh();
    } catch (error) {
      setWrong(sentenceOf(error));
    }
  }
  const changes = read?.planned.filter((p) => p.state !== "same").length ?? 0;
  return (
    <section aria-label={WORDS.definitions} className="grid gap-3">
      <Heading words={WORDS.definitions} beside={WORDS.whatYouCanOpen} />
      <p className="text-soft">{WORDS.definitionsHelp}</p>
      <div className="flex flex-wrap gap-3">
        <a className="button" href="/api/definitions" download>
          {WORDS.exportDefinitions}
        </a>
        <label className="button relative cursor-pointer focus-within:outline-2 focus-within:outline-bottle">
          {WORDS.importDefinitions}
          <input
            type="file"
            accept="application/json,.json"
            className="sr-only"
            onChange={(e) => {
              void open(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </label>
      </div>
      {wrong && <Notice tone="wrong">{wrong}</Notice>}
      {read && (
        <>
          <ul data-testid="definitions" className="max-h-96 overflow-auto border-y border-rule">
            {read.planned.map(({ id, kind, name, state, missing }) => (
              <li key={id} className="border-b border-hairline py-1.5 last:border-0">
                <span className="flex justify-between gap-3">
                  <span>
                    {name || WORDS.withoutName} <span className="text-small text-soft">{kind}</span>
                  </span>
                  <span className={`text-small ${TONES[state]}`}>{WORDS.states[state]}</span>
                </span>
                {missing.map((words) => (
                  <p key={words} className="text-small text-vermilion">
                    {words}
                  </p>
                ))}
              </li>
            ))}
          </ul>
          {read.planned.some((p) => p.missing.length > 0) && <p className="text-soft">{WORDS.missingCanBeReplaced}</p>}
          <button
            type="button"
            className="button-primary justify-self-start"
            disabled={changes === 0 || read.planned.some((p) => p.state === "unreadable")}
            onClick={() => void take()}
          >
            {WORDS.importItems(changes)}
          </button>
        </>
      )}
    </section>
  );
}
