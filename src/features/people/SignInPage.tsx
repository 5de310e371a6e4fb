"use client";

import { type FormEvent, useState } from "react";
import type { Role } from "@/core/people/roles";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { Logo } from "../workspace/Logo";
import { WORDS } from "./words";

/** What the demo's people come to see, by what they may do. */
const DEMO_WORDS: Record<Role, string> = {
  owner: WORDS.managesAccountsAndRulesSees,
  analyst: WORDS.queriesBuildsPosts,
  viewer: WORDS.seesWhatIsSharedFor,
};

/** The page on which one signs in. */
export function SignInPage({ demo, company, logo }: { demo: { id: string; name: string; role: Role }[]; company: string; logo: string | null }) {
  const [login, setLogin] = useState("");
  const [password, setPassword] = useState("");
  const [failure, setFailure] = useState("");
  const [busy, setBusy] = useState(false);
  async function enter(path: string, body: object): Promise<void> {
    setBusy(true);
    setFailure("");
    try {
      await ask(path, body);
      // A whole new page: nothing that was read for somebody else is left in it.
      window.location.assign("/");
    } catch (error) {
      setFailure(sentenceOf(error));
      setBusy(false);
    }
  }
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void enter("/api/session", { login, password });
  };
  return (
    <main className="min-h-screen bg-desk px-4 py-16">
      <div className="mx-auto grid max-w-md gap-6 border border-rule bg-sheet px-8 py-8 shadow-md">
        <div>
          <p className="font-serif text-title">
            <b className="font-semibold">Next</b> <i className="text-bottle">Ledger</i>
          </p>
          <p className="flex items-center gap-2 pt-1 font-semibold">
            <Logo address={logo} className="h-8 max-w-40" />
            {company}
          </p>
          <h1 className="pt-1 text-soft">{WORDS.signIn}</h1>
        </div>
        <form onSubmit={submit} className="grid gap-3">
          <label className="grid gap-1">
            {COMMON.name}
            <input className="field" name="username" autoComplete="username" required value={login} onChange={(e) => setLogin(e.target.value)} />
          </label>
          <label className="grid gap-1">
            {WORDS.password}
            <input
              className="field"
              name="password"
              type="password"
              autoComplete="current-password"
              required
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </label>
          {failure && <Notice tone="wrong">{failure}</Notice>}
          <button type="submit" className="button-primary justify-self-start" disabled={busy}>
            {WORDS.signIn}
          </button>
        </form>
        {demo.length > 0 && (
          <section>
            <h2 className="border-t border-ink pt-3 font-serif text-[1.125rem] font-semibold">{WORDS.demoAccounts}</h2>
            <p className="pb-2 text-soft">{WORDS.clickOneToSignIn}</p>
            <ul>
              {demo.map((p) => (
                <li key={p.id} className="border-t border-hairline">
                  <button
                    type="button"
                    disabled={busy}
                    className="flex w-full items-baseline justify-between gap-4 py-2 text-left hover:bg-bottle-tint"
                    onClick={() => void enter("/api/session/demo", { person: p.id })}
                  >
                    <span className="font-semibold text-bottle">{p.name}</span>
                    <span className="text-right text-small text-soft">
                      {p.role}: {DEMO_WORDS[p.role]}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </main>
  );
}
