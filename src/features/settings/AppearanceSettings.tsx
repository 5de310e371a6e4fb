"use client";

import { useEffect, useState } from "react";
import { APPEARANCE_KEY, type Appearance, readAppearance, setAppearance, TEXT_SIZES, USUAL } from "@/ui/appearance";
import { Heading, Labelled } from "./parts";
import { WORDS } from "./words";

/** How the screens look in this browser. */
export function AppearanceSettings() {
  const [shown, setShown] = useState<Appearance>(USUAL);
  useEffect(() => setShown(readAppearance(localStorage.getItem(APPEARANCE_KEY))), []);
  const set = (change: Partial<Appearance>) => {
    const next = { ...shown, ...change };
    setShown(next);
    setAppearance(next);
  };
  const choice = <K extends keyof Appearance>(words: string, key: K, choices: [Appearance[K], string][]) => (
    <Labelled words={words}>
      <select
        className="field max-w-56"
        value={String(shown[key])}
        onChange={(e) => set({ [key]: choices.find(([value]) => String(value) === e.target.value)?.[0] } as Partial<Appearance>)}
      >
        {choices.map(([value, name]) => (
          <option key={String(value)} value={String(value)}>
            {name}
          </option>
        ))}
      </select>
    </Labelled>
  );
  return (
    <section className="grid gap-3">
      <Heading words={WORDS.appearance} beside={WORDS.inThisBrowser} />
      {choice(WORDS.theme, "theme", [
        ["system", WORDS.bySystem],
        ["light", WORDS.light],
        ["dark", WORDS.dark],
      ])}
      {choice(WORDS.contrast, "contrast", [
        ["system", WORDS.bySystem],
        ["more", WORDS.high],
      ])}
      {choice(
        WORDS.textSize,
        "text",
        TEXT_SIZES.map((size): [Appearance["text"], string] => [size, WORDS.percent(size)]),
      )}
      {choice(WORDS.motion, "motion", [
        ["system", WORDS.bySystem],
        ["less", WORDS.reduced],
      ])}
      {choice(WORDS.density, "density", [
        ["comfortable", WORDS.comfortable],
        ["compact", WORDS.compact],
      ])}
    </section>
  );
}
