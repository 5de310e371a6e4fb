"use client";

import type { ReadMessage } from "@/server/outbox/message";
import { Link } from "../Link";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** A message as whoever gets it reads it. */
export function MessagePage({ message, path }: { message: ReadMessage; path: string }) {
  const { locale, zone } = useLocale();
  const size = new Intl.NumberFormat(locale, { maximumFractionDigits: 1 });
  const at = message.date && new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone: zone }).format(new Date(message.date));
  const line = (name: string, value: string) => (
    <div className="flex gap-3">
      <dt className="w-14 shrink-0 text-soft">{name}</dt>
      <dd className="break-all">{value}</dd>
    </div>
  );
  return (
    <div className="h-full overflow-auto">
      <article className="mx-auto max-w-3xl px-8 py-6">
        <p className="pb-3 text-small">
          <Link href="/outbox" className="link">
            {COMMON.outbox}
          </Link>
        </p>
        <h1 className="font-serif text-title font-semibold">{message.subject}</h1>
        <dl className="grid gap-0.5 border-b border-ink py-3">
          {line(WORDS.from, message.from)}
          {line(WORDS.to, message.to.join(", "))}
          {at && line(COMMON.date, at)}
        </dl>
        <p className="py-4 whitespace-pre-wrap">{message.text}</p>
        {message.attachments.length > 0 && (
          <section className="border-t border-rule pt-3">
            <h2 className="caption pb-1">{WORDS.attachments}</h2>
            <ul>
              {message.attachments.map((a) => (
                <li key={a.name}>
                  {a.name} <span className="text-soft">{WORDS.kB(size.format(a.bytes / 1000))}</span>
                </li>
              ))}
            </ul>
          </section>
        )}
        <a className="link mt-4 inline-block" href={`/api/outbox/file?path=${encodeURIComponent(path)}`}>
          {WORDS.saveMessageRFC5322}
        </a>
      </article>
    </div>
  );
}
