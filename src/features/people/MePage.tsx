"use client";

import { type FormEvent, useState } from "react";
import { toast } from "sonner";
import { ROLE_WORDS, type Role } from "@/core/people/spec";
import { counted } from "@/core/types/format";
import { ask, sentenceOf } from "../ask";
import { useLocale } from "../shell/Shell";
import { signOut } from "./signOut";

type Props = {
  person: { name: string; login: string; role: Role; knownAs: string };
  sessions: { createdAt: string; seenAt: string }[];
  /** Tables of which some rows are not for them. */
  partial: string[];
};

/** One's own account: what it may do, its password, where it is signed in. */
export function MePage({ person, sessions, partial }: Props) {
  const locale = useLocale();
  const [current, setCurrent] = useState("");
  const [password, setPassword] = useState("");
  const at = new Intl.DateTimeFormat(locale.locale, { dateStyle: "medium", timeStyle: "short", timeZone: locale.zone });
  async function change(event: FormEvent): Promise<void> {
    event.preventDefault();
    try {
      await ask("/api/people/me", { current, password });
      setCurrent("");
      setPassword("");
      toast("The password is changed. Everywhere else you are signed out.");
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-2xl gap-8 px-8 py-6">
        <section>
          <h1 className="font-serif text-title font-semibold">{person.name}</h1>
          <p className="pt-1 text-soft">
            {person.role}: {ROLE_WORDS[person.role]}. Signs in as “{person.login}”; the data knows them as “{person.knownAs}”.
          </p>
          {partial.length > 0 && <p className="pt-2">By a rule on rows, you see only some rows of {partial.join(", ")}. Your totals are over these.</p>}
        </section>
        <form onSubmit={change} className="grid max-w-sm gap-3">
          <h2 className="font-serif text-[1.125rem] font-semibold">Password</h2>
          <label className="grid gap-1">
            The one you have now
            <input className="field" type="password" autoComplete="current-password" required value={current} onChange={(e) => setCurrent(e.target.value)} />
          </label>
          <label className="grid gap-1">
            A new one, of at least 10 characters
            <input
              className="field"
              type="password"
              autoComplete="new-password"
              required
              minLength={10}
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </label>
          <button type="submit" className="button justify-self-start">
            Change the password
          </button>
        </form>
        <section>
          <h2 className="pb-1 font-serif text-[1.125rem] font-semibold">Signed in</h2>
          <p className="pb-2 text-soft">{counted(sessions.length, "session", locale)}. One ends after 12 hours without use, and after 14 days.</p>
          <ul className="pb-3">
            {sessions.map((s) => (
              <li key={s.createdAt + s.seenAt} className="border-t border-hairline py-1">
                since {at.format(new Date(s.createdAt))}, last used {at.format(new Date(s.seenAt))}
              </li>
            ))}
          </ul>
          <span className="flex gap-3">
            <button type="button" className="button" onClick={() => void signOut(false)}>
              Sign out here
            </button>
            <button type="button" className="button" onClick={() => void signOut(true)}>
              Sign out everywhere
            </button>
          </span>
        </section>
      </div>
    </div>
  );
}
