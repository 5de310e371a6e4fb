"use client";

import { useCallback, useEffect, useState } from "react";
import { toast } from "sonner";
import { isSite } from "@/core/page/site";
import type { PageSpec } from "@/core/page/spec";
import { counted } from "@/core/types/format";
import { date } from "@/core/types/valueType";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { copyText } from "../copyText";
import { TypedInput } from "../editors/TypedInput";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Publication = { address: string; locked: boolean; views: number };
type Props = { id: string; spec: PageSpec; change: (next: PageSpec, kind?: string) => void; changed: boolean; save: () => Promise<void> };

/** Whether a page is shown, where, to whom, until when; and what other sites put in to show it. */
export function PublishPanel({ id, spec, change, changed, save }: Props) {
  const locale = useLocale();
  const [publication, setPublication] = useState<Publication | null>(null);
  const [passcode, setPasscode] = useState("");
  const [sites, setSites] = useState(spec.embed.join("\n"));
  const [origin, setOrigin] = useState("");
  useEffect(() => setOrigin(window.location.origin), []);
  const send = useCallback(
    (body?: object) =>
      ask<Publication>(`/api/pages/${id}/publish`, body).then(
        (answer) => {
          setPublication(answer);
          return true;
        },
        (error) => {
          toast.error(sentenceOf(error));
          return false;
        },
      ),
    [id],
  );
  useEffect(() => void send(), [send]);
  if (!publication) return <p className="text-soft">{COMMON.loading}</p>;
  const url = `${origin}/p/${publication.address}`;
  const snippet = `<iframe src="${url}" title="${spec.title.replaceAll('"', "&quot;")}" width="100%" height="720" style="border:0" loading="lazy"></iframe>`;
  const lines = sites
    .split("\n")
    .map((l) => l.trim())
    .filter((l) => l !== "");
  const wrong = lines.find((site) => !isSite(site));
  return (
    <div className="grid gap-5">
      <Notice tone={spec.open ? "agrees" : "look"}>
        {spec.open ? <b>{WORDS.publishedState(changed ? WORDS.afterSaving : "")}</b> : <b>{WORDS.notPublishedState}</b>}
        {spec.open && spec.ends && WORDS.untilDay(spec.ends)}. {WORDS.opened(counted(publication.views, "time", locale))}
        <span className="block pt-2">
          <button type="button" className={spec.open ? "button" : "button-primary"} onClick={() => change({ ...spec, open: !spec.open })}>
            {spec.open ? WORDS.unpublish : WORDS.publish}
          </button>{" "}
          {changed && (
            <button type="button" className="button" onClick={() => void save()}>
              {COMMON.save}
            </button>
          )}
        </span>
      </Notice>
      <section className="grid gap-1.5">
        <h3 className="caption">{COMMON.address}</h3>
        <p className="text-small break-all">{url}</p>
        <span className="flex flex-wrap gap-3 text-small">
          <button type="button" className="link" onClick={() => void copyText(url, WORDS.addressCopied)}>
            {COMMON.copy}
          </button>
          <a className="link" href={url} target="_blank" rel="noreferrer">
            {WORDS.open}
          </a>
          <button type="button" className="link" onClick={() => void send({ newAddress: true }).then((done) => done && toast(WORDS.newAddressSetTheOld))}>
            {WORDS.newAddress}
          </button>
        </span>
        <p className="text-small text-soft">{WORDS.whoSeesIt}</p>
      </section>
      <form
        className="grid gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          void send({ passcode }).then((done) => {
            if (!done) return;
            setPasscode("");
            toast(WORDS.passcodeSetCurrentVisitorsMust);
          });
        }}
      >
        <label className="grid gap-0.5 text-small">
          {WORDS.passcode} {publication.locked ? WORDS.otherPasscode : WORDS.atLeast6}
          <span className="flex gap-2">
            <input className="field" type="password" autoComplete="new-password" minLength={6} value={passcode} onChange={(e) => setPasscode(e.target.value)} />
            <button type="submit" className="button" disabled={passcode.length < 6}>
              {COMMON.set}
            </button>
          </span>
        </label>
        {publication.locked ? (
          <button type="button" className="link justify-self-start text-small" onClick={() => void send({ passcode: null })}>
            {WORDS.removePasscode}
          </button>
        ) : (
          <p className="text-small text-soft">{WORDS.noPasscode}</p>
        )}
      </form>
      <label className="grid gap-0.5 text-small">
        {WORDS.publishedUntil}
        <TypedInput type={date} label={WORDS.publishedUntil} value={spec.ends ?? ""} onChange={(ends) => change({ ...spec, ends: ends || null })} />
      </label>
      <label className="grid gap-0.5 text-small">
        {WORDS.allowedSitesOnePerLine}
        <textarea
          className="field h-16"
          placeholder="https://www.example.org"
          value={sites}
          onChange={(e) => setSites(e.target.value)}
          onBlur={() => !wrong && JSON.stringify(lines) !== JSON.stringify(spec.embed) && change({ ...spec, embed: lines })}
        />
        {wrong && <span className="text-vermilion">{WORDS.notASite(wrong)}</span>}
      </label>
      <section className="grid gap-1.5">
        <h3 className="caption">{WORDS.embedCode}</h3>
        <code className="block border border-rule bg-sheet p-2 font-mono text-tiny break-all">{snippet}</code>
        <button type="button" className="link justify-self-start text-small" onClick={() => void copyText(snippet, WORDS.embedCodeCopied)}>
          {COMMON.copy}
        </button>
      </section>
    </div>
  );
}
