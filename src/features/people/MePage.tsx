"use client";

import { type FormEvent, useState } from "react";
import { toast } from "sonner";
import { ROLE_WORDS, type Role } from "@/core/people/roles";
import { counted } from "@/core/types/format";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { signOut } from "./signOut";
import { WORDS } from "./words";

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
      toast(WORDS.passwordChangedYouAreSigned);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-2xl gap-8 px-8 py-6">
        <section>
          <PageHeading name={person.name} />
          <p className="pt-1 text-soft">{WORDS.personLine(person.role, ROLE_WORDS[person.role], person.login, person.knownAs)}</p>
          {partial.length > 0 && <p className="pt-2">{WORDS.partlySeen(partial.join(", "))}</p>}
        </section>
        <form onSubmit={change} className="grid max-w-sm gap-3">
          <h2 className="font-serif text-[1.125rem] font-semibold">{WORDS.password}</h2>
          <label className="grid gap-1">
            {WORDS.currentPassword}
            <input className="field" type="password" autoComplete="current-password" required value={current} onChange={(e) => setCurrent(e.target.value)} />
          </label>
          <label className="grid gap-1">
            {WORDS.newPasswordAtLeast10}
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
            {WORDS.changePassword}
          </button>
        </form>
        <section>
          <h2 className="pb-1 font-serif text-[1.125rem] font-semibold">{WORDS.signedIn}</h2>
          <p className="pb-2 text-soft">{WORDS.sessionsEnd(counted(sessions.length, "session", locale))}</p>
          <ul className="pb-3">
            {sessions.map((s) => (
              <li key={s.createdAt + s.seenAt} className="border-t border-hairline py-1">
                {WORDS.sinceLastActive(at.format(new Date(s.createdAt)), at.format(new Date(s.seenAt)))}
              </li>
            ))}
          </ul>
          <span className="flex gap-3">
            <button type="button" className="button" onClick={() => void signOut(false)}>
              {COMMON.signOut}
            </button>
            <button type="button" className="button" onClick={() => void signOut(true)}>
              {WORDS.signOutOnAllDevices}
            </button>
          </span>
        </section>
      </div>
    </div>
  );
}
