"use client";

import { useRouter } from "next/navigation";
import { type FormEvent, useEffect, useState } from "react";
import { toast } from "sonner";
import { PAPERS } from "@/core/report/choices";
import { isLocale, LOCALES } from "@/core/settings/locales";
import type { Settings } from "@/core/settings/spec";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { CalendarSettings } from "./CalendarSettings";
import { LogoSetting } from "./LogoSetting";
import { Heading, Labelled } from "./parts";
import { WORDS } from "./words";

/** How a number and a day are written in a locale; nothing where it is not known. */
function exampleOf(locale: string): string {
  if (!isLocale(locale)) return "";
  const day = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeZone: "UTC" }).format(new Date("2026-09-30T00:00:00Z"));
  return WORDS.localeExample(new Intl.NumberFormat(locale, { minimumFractionDigits: 2 }).format(12345.6), day);
}

/** What a currency is called in a locale; nothing where either is not known. */
function currencyName(code: string, locale: string): string {
  if (!isLocale(locale) || !/^[A-Z]{3}$/.test(code)) return "";
  return new Intl.DisplayNames(locale, { type: "currency", fallback: "none" }).of(code) ?? "";
}

type ChoiceProps = { value: string; among: readonly string[]; id: string; width: string; onChange: (next: string) => void };

/** One of many, typed or chosen. The list comes once the page runs: a browser knows other zones and currencies than the server. */
function Among({ value, among, id, width, onChange }: ChoiceProps) {
  const [runs, setRuns] = useState(false);
  useEffect(() => setRuns(true), []);
  return (
    <span>
      <input className={`field ${width}`} list={id} value={value} onChange={(e) => onChange(e.target.value)} />
      <datalist id={id}>{runs && among.map((one) => <option key={one} value={one} />)}</datalist>
    </span>
  );
}

/** What the whole workspace is written by. */
export function WorkspaceSettings({ settings }: { settings: Settings }) {
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
      <LogoSetting logo={typed.logo} onChange={(logo) => set({ logo })} />
      <Labelled words={WORDS.locale}>
        <span className="flex items-center gap-3">
          <Among id="locales" width="max-w-32" value={typed.locale} among={LOCALES} onChange={(locale) => set({ locale })} />
          <span className="text-soft">{exampleOf(typed.locale)}</span>
        </span>
      </Labelled>
      <Labelled words={WORDS.zone}>
        <Among id="zones" width="max-w-56" value={typed.zone} among={Intl.supportedValuesOf("timeZone")} onChange={(zone) => set({ zone })} />
      </Labelled>
      <Labelled words={WORDS.currency}>
        <span className="flex items-center gap-3">
          <Among
            id="currencies"
            width="max-w-24"
            value={typed.currency}
            among={Intl.supportedValuesOf("currency")}
            onChange={(currency) => set({ currency: currency.toUpperCase() })}
          />
          <span className="text-soft">{currencyName(typed.currency, typed.locale)}</span>
        </span>
      </Labelled>
      <Labelled words={WORDS.paper}>
        <select className="field max-w-32" value={typed.paper} onChange={(e) => set({ paper: e.target.value as Settings["paper"] })}>
          {Object.keys(PAPERS).map((paper) => (
            <option key={paper}>{paper}</option>
          ))}
        </select>
      </Labelled>
      <CalendarSettings calendar={typed.calendar} locale={isLocale(typed.locale) ? typed.locale : settings.locale} onChange={(calendar) => set({ calendar })} />
      <button type="submit" className="button-primary justify-self-start">
        {COMMON.save}
      </button>
    </form>
  );
}
