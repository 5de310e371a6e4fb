"use client";

import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { useRouter } from "next/navigation";
import { type FormEvent, useState } from "react";
import { toast } from "sonner";
import { ROLE_WORDS, ROLES, type Role } from "@/core/people/roles";
import type { RuleSpec } from "@/core/people/spec";
import type { Schema } from "@/core/schema/schema";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import type { Account } from "./account";
import { RulesPanel } from "./RulesPanel";
import { WORDS } from "./words";

type LogLine = { id: number; at: string; person: string; action: string; about: string };
type Props = { people: Account[]; rules: { id: string; name: string; revision: number; spec: RuleSpec }[]; log: LogLine[]; schema: Schema; me: string | null };

const TAB = "border-b-2 border-transparent pb-2 text-soft data-selected:border-bottle data-selected:font-semibold data-selected:text-ink";

/** Who may come in, which rows they see, and what was done. */
export function PeoplePage({ people, rules, log, schema, me }: Props) {
  const names = [WORDS.accounts, WORDS.rowRules, WORDS.log];
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto max-w-5xl px-8 py-6">
        <PageHeading name={COMMON.people} className="pb-3" />
        <TabGroup>
          <TabList className="flex gap-6 border-b border-rule">
            {names.map((name) => (
              <Tab key={name} className={TAB}>
                {name}
              </Tab>
            ))}
          </TabList>
          <TabPanels className="pt-5">
            <TabPanel>
              <Accounts people={people} me={me} />
            </TabPanel>
            <TabPanel>
              <RulesPanel rules={rules} people={people} schema={schema} />
            </TabPanel>
            <TabPanel>
              <Log log={log} />
            </TabPanel>
          </TabPanels>
        </TabGroup>
      </div>
    </div>
  );
}

function Accounts({ people, me }: { people: Account[]; me: string | null }) {
  const router = useRouter();
  const first = people.length === 0;
  async function change(id: string, set: object, done: string): Promise<void> {
    try {
      await ask(`/api/people/${id}`, set, { method: "PATCH" });
      toast(done);
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div className="grid gap-8">
      {first && <Notice tone="look">{WORDS.thereAreNoAccountsYetSo}</Notice>}
      {!first && (
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink text-left text-small">
              <th className="py-1.5 pr-3">{COMMON.name}</th>
              <th className="pr-3">{WORDS.signInName}</th>
              <th className="pr-3">{WORDS.role}</th>
              <th className="pr-3">{WORDS.nameInTheData}</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {people.map((p) => (
              <tr key={p.id} className={`border-b border-hairline ${p.blocked ? "text-soft" : ""}`}>
                <td className="py-1.5 pr-3 font-semibold">{p.name}</td>
                <td className="pr-3">{p.login}</td>
                <td className="pr-3">
                  <select
                    className="field w-28"
                    aria-label={WORDS.roleOf(p.name)}
                    value={p.role}
                    onChange={(e) => void change(p.id, { role: e.target.value }, WORDS.isNow(p.name, e.target.value))}
                  >
                    {ROLES.map((role) => (
                      <option key={role}>{role}</option>
                    ))}
                  </select>
                </td>
                <td className="pr-3">
                  <input
                    className="field w-44"
                    aria-label={WORDS.nameOfInTheData(p.name)}
                    placeholder={p.name}
                    defaultValue={p.knownAs}
                    onBlur={(e) => e.target.value !== p.knownAs && void change(p.id, { knownAs: e.target.value }, WORDS.saved)}
                  />
                </td>
                <td className="text-right whitespace-nowrap">
                  <NewPassword name={p.name} set={(password) => change(p.id, { password }, WORDS.passwordSet(p.name))} />
                  {p.id !== me && (
                    <button
                      type="button"
                      className="small-button ml-3"
                      onClick={() => void change(p.id, { blocked: !p.blocked }, p.blocked ? WORDS.canSignInAgain(p.name) : WORDS.blocked(p.name))}
                    >
                      {p.blocked ? WORDS.unblock : WORDS.block}
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <NewAccount first={first} />
      <dl className="grid max-w-2xl gap-1 text-small text-soft">
        {ROLES.map((role) => (
          <div key={role} className="flex gap-2">
            <dt className="w-16 shrink-0 font-semibold">{role}</dt>
            <dd>{ROLE_WORDS[role]}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

function NewPassword({ name, set }: { name: string; set: (password: string) => Promise<void> }) {
  const [password, setPassword] = useState<string | null>(null);
  if (password === null)
    return (
      <button type="button" className="small-button" onClick={() => setPassword("")}>
        {WORDS.newPassword}
      </button>
    );
  return (
    <form
      className="inline-flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void set(password).then(() => setPassword(null));
      }}
    >
      <input
        className="field w-40"
        type="password"
        autoComplete="new-password"
        minLength={10}
        required
        aria-label={WORDS.newPasswordFor(name)}
        value={password}
        onChange={(e) => setPassword(e.target.value)}
      />
      <button type="submit" className="button">
        {COMMON.set}
      </button>
    </form>
  );
}

const NOBODY = { login: "", name: "", role: "analyst" as Role, knownAs: "", password: "" };

function NewAccount({ first }: { first: boolean }) {
  const router = useRouter();
  const [draft, setDraft] = useState(first ? { ...NOBODY, role: "owner" as Role } : NOBODY);
  const set = (next: Partial<typeof draft>) => setDraft({ ...draft, ...next });
  async function make(event: FormEvent): Promise<void> {
    event.preventDefault();
    try {
      await ask("/api/people", draft);
      toast(WORDS.canSignIn(draft.name));
      setDraft(NOBODY);
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  const text = (label: string, value: string, key: "login" | "name" | "knownAs", more: object = {}) => (
    <label className="grid gap-0.5 text-small">
      {label}
      <input className="field w-44" value={value} onChange={(e) => set({ [key]: e.target.value })} {...more} />
    </label>
  );
  return (
    <form onSubmit={make} className="grid gap-2">
      <h2 className="font-serif text-[1.125rem] font-semibold">{first ? WORDS.firstAccount : WORDS.newAccount}</h2>
      <div className="flex flex-wrap items-end gap-3">
        {text(COMMON.name, draft.name, "name", { required: true })}
        {text(WORDS.signInName, draft.login, "login", { required: true, autoComplete: "off" })}
        <label className="grid gap-0.5 text-small">
          {WORDS.password10CharactersOrMore}
          <input
            className="field w-44"
            type="password"
            autoComplete="new-password"
            minLength={10}
            required
            value={draft.password}
            onChange={(e) => set({ password: e.target.value })}
          />
        </label>
        {!first && (
          <label className="grid gap-0.5 text-small">
            {WORDS.role}
            <select className="field w-28" value={draft.role} onChange={(e) => set({ role: e.target.value as Role })}>
              {ROLES.map((role) => (
                <option key={role}>{role}</option>
              ))}
            </select>
          </label>
        )}
        {text(WORDS.nameInTheData, draft.knownAs, "knownAs", { placeholder: draft.name })}
        <button type="submit" className="button-primary">
          {WORDS.addAccount}
        </button>
      </div>
    </form>
  );
}

function Log({ log }: { log: LogLine[] }) {
  const { locale, zone } = useLocale();
  const at = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "medium", timeZone: zone });
  if (log.length === 0) return <p className="text-soft">{WORDS.logEmpty}</p>;
  return (
    <table className="w-full">
      <thead>
        <tr className="border-b border-ink text-left text-small">
          <th className="py-1.5 pr-3">{COMMON.when}</th>
          <th className="pr-3">{WORDS.who}</th>
          <th className="pr-3">{WORDS.what}</th>
          <th>{WORDS.object}</th>
        </tr>
      </thead>
      <tbody>
        {log.map((line) => (
          <tr key={line.id} className="border-b border-hairline">
            <td className="py-1 pr-3 whitespace-nowrap">{at.format(new Date(line.at))}</td>
            <td className="pr-3">{line.person}</td>
            <td className={`pr-3 ${line.action === "sign-in refused" ? "text-vermilion" : ""}`}>{line.action}</td>
            <td>{line.about}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
