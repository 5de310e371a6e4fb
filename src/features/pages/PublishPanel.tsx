"use client";

import { useCallback, useEffect, useState } from "react";
import { toast } from "sonner";
import { type PageSpec, pageSpecSchema } from "@/core/page/spec";
import { counted } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { copyText } from "../copyText";
import { useLocale } from "../shell/Shell";

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
  if (!publication) return <p className="text-soft">One moment…</p>;
  const url = `${origin}/p/${publication.address}`;
  const snippet = `<iframe src="${url}" title="${spec.title.replaceAll('"', "&quot;")}" width="100%" height="720" style="border:0" loading="lazy"></iframe>`;
  const lines = sites
    .split("\n")
    .map((l) => l.trim())
    .filter((l) => l !== "");
  const wrong = lines.find((site) => !pageSpecSchema.shape.embed.safeParse([site]).success);
  return (
    <div className="grid gap-5">
      <Notice tone={spec.open ? "agrees" : "look"}>
        {spec.open ? <b>Shown{changed ? " once it is saved" : ""}</b> : <b>Not shown to anybody</b>}
        {spec.open && spec.ends && `, until ${spec.ends}`}. Opened {counted(publication.views, "time", locale)}.
        <span className="block pt-2">
          <button type="button" className={spec.open ? "button" : "button-primary"} onClick={() => change({ ...spec, open: !spec.open })}>
            {spec.open ? "Take it off" : "Show it"}
          </button>{" "}
          {changed && (
            <button type="button" className="button" onClick={() => void save()}>
              Save
            </button>
          )}
        </span>
      </Notice>
      <section className="grid gap-1.5">
        <h3 className="caption">Address</h3>
        <p className="text-small break-all">{url}</p>
        <span className="flex flex-wrap gap-3 text-small">
          <button type="button" className="link" onClick={() => void copyText(url, "The address is copied.")}>
            Copy
          </button>
          <a className="link" href={url} target="_blank" rel="noreferrer">
            Open
          </a>
          <button
            type="button"
            className="link"
            onClick={() => void send({ newAddress: true }).then((done) => done && toast("It has another address; the old one shows nothing."))}
          >
            Another address
          </button>
        </span>
        <p className="text-small text-soft">Whoever has it sees the page, and nothing besides.</p>
      </section>
      <form
        className="grid gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          void send({ passcode }).then((done) => {
            if (!done) return;
            setPasscode("");
            toast("The passcode is set. Those who were in must give it.");
          });
        }}
      >
        <label className="grid gap-0.5 text-small">
          Passcode{publication.locked ? ", another one" : ", 6 characters or more"}
          <span className="flex gap-2">
            <input className="field" type="password" autoComplete="new-password" minLength={6} value={passcode} onChange={(e) => setPasscode(e.target.value)} />
            <button type="submit" className="button" disabled={passcode.length < 6}>
              Set
            </button>
          </span>
        </label>
        {publication.locked ? (
          <button type="button" className="link justify-self-start text-small" onClick={() => void send({ passcode: null })}>
            Ask for none
          </button>
        ) : (
          <p className="text-small text-soft">None is asked for.</p>
        )}
      </form>
      <label className="grid gap-0.5 text-small">
        Last day it is shown
        <input className="field" type="date" value={spec.ends ?? ""} onChange={(e) => change({ ...spec, ends: e.target.value || null })} />
      </label>
      <label className="grid gap-0.5 text-small">
        Sites that may show it within their own, a line each
        <textarea
          className="field h-16"
          placeholder="https://www.example.org"
          value={sites}
          onChange={(e) => setSites(e.target.value)}
          onBlur={() => !wrong && JSON.stringify(lines) !== JSON.stringify(spec.embed) && change({ ...spec, embed: lines })}
        />
        {wrong && <span className="text-vermilion">“{wrong}” is not a site. Write it as https://www.example.org, without anything after it.</span>}
      </label>
      <section className="grid gap-1.5">
        <h3 className="caption">To put into another site</h3>
        <code className="block border border-rule bg-sheet p-2 font-mono text-tiny break-all">{snippet}</code>
        <button type="button" className="link justify-self-start text-small" onClick={() => void copyText(snippet, "The snippet is copied.")}>
          Copy
        </button>
      </section>
    </div>
  );
}
