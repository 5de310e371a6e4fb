"use client";

import { useEffect, useState } from "react";
import { writeCount } from "@/core/types/format";
import type { ReadMessage } from "@/server/services/outbox/message";
import type { Maker, OutboxFile } from "@/server/services/outbox/outbox";
import type { Preview } from "@/server/services/outbox/preview";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { hasPlace, placeOf } from "../places";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { sizeOf, useMoment } from "./moments";
import { WORDS } from "./words";

const addressOf = (path: string, shown = false): string => `/api/outbox/file?path=${encodeURIComponent(path)}${shown ? "&show" : ""}`;

/** How a browser's own viewer is to open: a page as wide as there is room, without its list of pages. */
const FIT = "#navpanes=0&view=FitH";

/** One file: what made it, and how it begins. */
export function FilePreview({ file, maker }: { file: OutboxFile; maker: Maker | null }) {
  const [preview, setPreview] = useState<Preview | null>(null);
  const [failure, setFailure] = useState("");
  useEffect(() => {
    ask<Preview>(`/api/outbox/preview?path=${encodeURIComponent(file.path)}`).then(setPreview, (error) => setFailure(sentenceOf(error)));
  }, [file.path]);
  return (
    <article className="flex min-h-full flex-col gap-3">
      <header className="flex items-start justify-between gap-4">
        <h2 className="font-serif text-[1.125rem] font-semibold break-words">{file.name}</h2>
        <a className="button-primary shrink-0" href={addressOf(file.path)}>
          {WORDS.download}
        </a>
      </header>
      <Facts file={file} maker={maker} />
      {failure && <Notice tone="wrong">{failure}</Notice>}
      {!preview && !failure && <p className="text-soft">{COMMON.loading}</p>}
      {preview && <Shown preview={preview} file={file} />}
    </article>
  );
}

/** Who and what made a file, and what became of its message. */
function Facts({ file, maker }: { file: OutboxFile; maker: Maker | null }) {
  const { locale } = useLocale();
  const moment = useMoment();
  if (!maker) return <p className="text-small text-soft">{`${moment(file.at)} · ${WORDS.kB(sizeOf(file.bytes, locale))}`}</p>;
  const { subject, controls } = maker;
  const facts: [string, React.ReactNode][] = [
    [WORDS.madeBy, `${maker.schedule || WORDS.deletedSchedule}${maker.owner ? ` (${maker.owner})` : ""}`],
    ...(subject && hasPlace(subject.kind)
      ? [
          [
            WORDS.madeFrom,
            <Link key="subject" className="link" href={placeOf(subject.kind, subject.id)}>
              {subject.name}
            </Link>,
          ] as [string, React.ReactNode],
        ]
      : []),
    [WORDS.due, moment(maker.dueAt)],
    ...(maker.forced ? [[WORDS.controls, WORDS.sentAnyway] as [string, string]] : []),
    ...(controls?.length ? [[WORDS.controls, controls.map((c) => WORDS.controlAgrees(c.source, c.figure, c.value)).join("; ")] as [string, string]] : []),
    ...(maker.message === "none"
      ? []
      : [[WORDS.message, maker.message === "sent" ? WORDS.messages.sent(moment(maker.sentAt ?? file.at)) : WORDS.messages[maker.message]] as [string, string]]),
  ];
  return (
    <dl className="grid grid-cols-[8rem_1fr] gap-x-3 gap-y-0.5 border-y border-hairline py-2 text-small">
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-soft">{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function Shown({ preview, file }: { preview: Preview; file: OutboxFile }) {
  const locale = useLocale();
  const title = WORDS.previewOf(file.name);
  switch (preview.kind) {
    case "pages":
      return <iframe title={title} src={`${addressOf(file.path, true)}${FIT}`} className="min-h-96 w-full flex-1 border border-rule bg-sheet" />;
    case "picture":
      // biome-ignore lint/performance/noImgElement: a file as it was made, shown once
      return <img src={addressOf(file.path, true)} alt={title} className="printed max-w-full border border-rule bg-sheet" />;
    case "rows":
      return <Rows {...preview} title={title} />;
    case "names":
      return (
        <>
          <ul className="grid gap-0.5">
            {preview.names.map((name) => (
              <li key={name}>{name}</li>
            ))}
          </ul>
          {preview.more && <p className="text-small text-soft">{WORDS.firstNames(writeCount(preview.names.length, locale))}</p>}
        </>
      );
    case "message":
      return <Message message={preview.message} />;
    case "none":
      return <p className="text-soft">{preview.why === "large" ? WORDS.tooLarge : WORDS.noPreview}</p>;
    default:
      return preview satisfies never;
  }
}

const isFigure = (text: string | undefined): boolean => /^-?\d+(\.\d+)?$/.test(text ?? "");

function Rows({ heading, rows, more, title }: { heading: string[]; rows: string[][]; more: boolean; title: string }) {
  const locale = useLocale();
  if (heading.length === 0) return <p className="text-soft">{WORDS.empty}</p>;
  return (
    <>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls can be reached by keyboard */}
      <section aria-label={title} tabIndex={0} className="overflow-auto border border-rule bg-sheet">
        <table className="text-small whitespace-nowrap tabular-nums">
          <thead>
            <tr className="border-b border-ink text-left">
              {heading.map((name, i) => (
                <th key={`${name} ${i}`} className="border-r border-column px-2 py-1 font-semibold">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, r) => (
              <tr key={`row ${r}`} className="border-b border-hairline">
                {heading.map((name, i) => (
                  <td key={`${name} ${i}`} className={`max-w-72 truncate border-r border-column px-2 py-0.5 ${isFigure(row[i]) ? "text-right" : ""}`}>
                    {row[i]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {more && <p className="text-small text-soft">{WORDS.firstRows(writeCount(rows.length, locale))}</p>}
    </>
  );
}

/** A message as whoever gets it reads it. */
function Message({ message }: { message: ReadMessage }) {
  const { locale } = useLocale();
  const moment = useMoment();
  const line = (name: string, value: string) => (
    <div className="flex gap-3">
      <dt className="w-14 shrink-0 text-soft">{name}</dt>
      <dd className="break-all">{value}</dd>
    </div>
  );
  return (
    <section className="grid gap-3 border border-rule bg-sheet p-4">
      <h3 className="font-semibold">{message.subject}</h3>
      <dl className="grid gap-0.5 border-b border-hairline pb-2 text-small">
        {line(WORDS.from, message.from)}
        {line(WORDS.to, message.to.join(", "))}
        {message.date && line(COMMON.date, moment(message.date))}
      </dl>
      <p className="whitespace-pre-wrap">{message.text}</p>
      {message.attachments.length > 0 && (
        <section className="border-t border-rule pt-2 text-small">
          <h4 className="caption pb-1">{WORDS.attachments}</h4>
          <ul>
            {message.attachments.map((a) => (
              <li key={a.name}>
                {a.name} <span className="text-soft">{WORDS.kB(sizeOf(a.bytes, locale))}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </section>
  );
}
