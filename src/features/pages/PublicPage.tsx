"use client";

import { type FormEvent, useMemo, useState } from "react";
import { Toaster } from "sonner";
import type { Locale } from "@/core/types/format";
import type { About } from "@/server/services/pages/answer";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { Logo } from "../workspace/Logo";
import { LocaleContext } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { PageBody } from "./PageBody";
import { WORDS } from "./words";

/** A published page as its visitors see it, by itself or within another site. */
export function PublicPage({ address, locked, locale, logo }: { address: string; locked: boolean; locale: Locale; logo: string | null }) {
  const [pass, setPass] = useState<string | null>(null);
  const [about, setAbout] = useState<About | null>(null);
  const path = `/api/p/${address}`;
  const asking = useMemo(() => ({ path, with: pass ? { pass } : {} }), [path, pass]);
  return (
    <LocaleContext.Provider value={locale}>
      <main className="mx-auto grid max-w-6xl grid-cols-[minmax(0,1fr)] gap-4 px-6 py-6 max-md:px-3">
        {!about && <title>{COMMON.page}</title>}
        {about && (
          <header className="border-b border-ink pb-3">
            <Logo address={logo} className="float-right h-10 max-w-48" />
            <PageHeading name={about.title} />
            {about.intro && <p className="whitespace-pre-wrap">{about.intro}</p>}
          </header>
        )}
        {locked && pass === null ? <Passcode path={path} enter={setPass} /> : <PageBody asking={asking} onAbout={setAbout} />}
      </main>
      <Toaster position="bottom-center" />
    </LocaleContext.Provider>
  );
}

function Passcode({ path, enter }: { path: string; enter: (pass: string) => void }) {
  const [passcode, setPasscode] = useState("");
  const [failure, setFailure] = useState("");
  async function submit(event: FormEvent): Promise<void> {
    event.preventDefault();
    try {
      enter((await ask<{ pass: string }>(path, { passcode })).pass);
    } catch (error) {
      setFailure(sentenceOf(error));
    }
  }
  return (
    <form onSubmit={submit} className="mx-auto mt-16 grid w-full max-w-xs gap-3 border border-rule bg-sheet p-6">
      <label className="grid gap-1">
        {WORDS.passcode}
        <input className="field" type="password" autoComplete="off" required value={passcode} onChange={(e) => setPasscode(e.target.value)} />
      </label>
      {failure && <Notice tone="wrong">{failure}</Notice>}
      <button type="submit" className="button-primary justify-self-start">
        {WORDS.openPage}
      </button>
    </form>
  );
}
