"use client";

import type { OutboxFile } from "@/server/outbox/outbox";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** The files that schedules have laid out, by folder. */
export function OutboxPage({ files }: { files: OutboxFile[] }) {
  const { locale, zone } = useLocale();
  const at = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone: zone });
  const size = new Intl.NumberFormat(locale, { maximumFractionDigits: 1 });
  const folders = [...new Set(files.map((f) => f.folder))];
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto max-w-4xl px-8 py-6">
        <h1 className="pb-4 font-serif text-title font-semibold">{COMMON.outbox}</h1>
        {files.length === 0 && <p className="text-soft">{WORDS.nothingYet}</p>}
        {folders.map((folder) => (
          <section key={folder} className="pb-6">
            <h2 className="caption pb-1">{folder || "outbox"}</h2>
            <table className="w-full">
              <thead className="sr-only">
                <tr>
                  <th>{WORDS.file}</th>
                  <th>{WORDS.size}</th>
                  <th>{WORDS.created}</th>
                </tr>
              </thead>
              <tbody>
                {files
                  .filter((f) => f.folder === folder)
                  .map((f) => (
                    <tr key={f.path} className="border-t border-rule">
                      <td className="py-1.5">
                        <a className="link" href={`${f.name.endsWith(".eml") ? "/outbox/message" : "/api/outbox/file"}?path=${encodeURIComponent(f.path)}`}>
                          {f.name}
                        </a>
                      </td>
                      <td className="py-1.5 text-right text-soft">{WORDS.kB(size.format(f.bytes / 1000))}</td>
                      <td className="w-48 py-1.5 text-right text-soft">{at.format(new Date(f.at))}</td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </section>
        ))}
      </div>
    </div>
  );
}
