"use client";

import { useRouter } from "next/navigation";
import { type FormEvent, type ReactNode, useEffect, useState } from "react";
import { toast } from "sonner";
import { PAPERS } from "@/core/report/spec";
import { isLocale, LOCALES, type Settings } from "@/core/settings/spec";
import { APPEARANCE_KEY, type Appearance, readAppearance, setAppearance, TEXT_SIZES, USUAL } from "@/ui/appearance";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { WORDS } from "./words";

/** How the screens look, for everyone; and for owners what the whole workspace is written by. */
export function SettingsPage({ settings }: { settings: Settings | null }) {
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-2xl gap-8 px-8 py-6">
        <h1 className="font-serif text-title font-semibold">{WORDS.settings}</h1>
        <AppearanceSettings />
        {settings && <WorkspaceSettings settings={settings} />}
      </div>
    </div>
  );
}

const Heading = ({ words, beside }: { words: string; beside: string }) => (
  <h2 className="flex items-baseline gap-2 border-b border-rule pb-1">
    <span className="font-serif text-[1.125rem] font-semibold">{words}</span>
    <span className="text-small text-faint">{beside}</span>
  </h2>
);

const Labelled = ({ words, children }: { words: string; children: ReactNode }) => (
  <label className="grid grid-cols-[12rem_1fr] items-center gap-3 max-sm:grid-cols-1">
    {words}
    {children}
  </label>
);

function AppearanceSettings() {
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

/** How a number and a day are written in a locale; nothing where it is not known. */
function exampleOf(locale: string): string {
  if (!isLocale(locale)) return "";
  const day = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeZone: "UTC" }).format(new Date("2026-09-30T00:00:00Z"));
  return WORDS.localeExample(new Intl.NumberFormat(locale, { minimumFractionDigits: 2 }).format(12345.6), day);
}

function WorkspaceSettings({ settings }: { settings: Settings }) {
  const router = useRouter();
  const [typed, setTyped] = useState(settings);
  const set = (change: Partial<Settings>) => setTyped({ ...typed, ...change });
  async function save(event: FormEvent): Promise<void> {
    event.preventDefault();
    try {
      await ask("/api/settings", typed);
      toast(WORDS.saved);
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <form onSubmit={save} className="grid gap-3">
      <Heading words={WORDS.workspace} beside={WORDS.forEveryone} />
      <Labelled words={WORDS.company}>
        <input className="field max-w-80" required maxLength={200} value={typed.company} onChange={(e) => set({ company: e.target.value })} />
      </Labelled>
      <Labelled words={WORDS.locale}>
        <span className="flex items-center gap-3">
          <input className="field max-w-32" list="locales" value={typed.locale} onChange={(e) => set({ locale: e.target.value })} />
          <span className="text-soft">{exampleOf(typed.locale)}</span>
          <datalist id="locales">
            {LOCALES.map((l) => (
              <option key={l} value={l} />
            ))}
          </datalist>
        </span>
      </Labelled>
      <Labelled words={WORDS.zone}>
        <span>
          <input className="field max-w-56" list="zones" value={typed.zone} onChange={(e) => set({ zone: e.target.value })} />
          <datalist id="zones">
            {Intl.supportedValuesOf("timeZone").map((z) => (
              <option key={z} value={z} />
            ))}
          </datalist>
        </span>
      </Labelled>
      <Labelled words={WORDS.paper}>
        <select className="field max-w-32" value={typed.paper} onChange={(e) => set({ paper: e.target.value as Settings["paper"] })}>
          {Object.keys(PAPERS).map((paper) => (
            <option key={paper}>{paper}</option>
          ))}
        </select>
      </Labelled>
      <button type="submit" className="button-primary justify-self-start">
        {COMMON.save}
      </button>
    </form>
  );
}
