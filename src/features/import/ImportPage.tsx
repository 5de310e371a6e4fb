"use client";

import { counted, writeCount } from "@/core/types/format";
import type { Scanned } from "@/server/services/import/service";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { ColumnChoices } from "./ColumnChoices";
import { FirstRows } from "./FirstRows";
import { FormatChoices } from "./FormatChoices";
import { ImportPanel } from "./ImportPanel";
import { useImport } from "./useImport";
import { WORDS } from "./words";

/** A file on its way in: how it is read, what its columns are, and its first rows as they will be. */
export function ImportPage({ id, name, bytes, tables }: { id: string; name: string; bytes: number; tables: { name: string; label: string }[] }) {
  const locale = useLocale();
  const { read, form, scan, columns, setColumns, setClean, once, setOnce, misfits, setMisfits, into, setInto, notFitting, failure, progress, bring, stop } =
    useImport(id, name);
  const busy = progress !== null;
  const ready = read !== null && !busy && columns.some((c) => !c.left);

  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <div className="flex flex-wrap items-center gap-3">
          <PageHeading name={name} />
          <span className="text-small text-soft">
            {WORDS.notImportedYet(writeCount(Math.max(1, Math.round(bytes / 1024)), locale), read ? ` · ${counted(read.scan.rows, "row", locale)}` : "")}
          </span>
          <span className="ml-auto flex gap-2">
            {busy && (
              <button type="button" className="button" onClick={stop}>
                {COMMON.stop}
              </button>
            )}
            <button type="button" className="button-primary" disabled={!ready} onClick={bring}>
              {into.kind === "table" ? WORDS.import : WORDS.preparePosting}
            </button>
          </span>
        </div>
        {busy && (
          <div className="flex items-center gap-3 text-small text-soft" role="status">
            <progress className="w-64 accent-bottle" value={progress} max={1} aria-label={WORDS.progress} />
            {WORDS.readingTheFile}
          </div>
        )}
        {failure && <Notice tone="wrong">{failure}</Notice>}
        {form && <FormatChoices format={form.format} sheets={form.sheets} disabled={busy} onChange={(format) => void scan(format)} />}
        {read && <ScanNotices scan={read.scan} />}
        {read && (
          <ColumnChoices columns={columns} scan={read.scan} notFitting={notFitting} onChange={setColumns} onClean={(at, clean) => void setClean(at, clean)} />
        )}
        {read && <FirstRows rows={read.scan.first} columns={columns} misfits={misfits} comma={read.format.kind === "delimited" && read.format.comma} />}
      </section>
      <Margin
        parts={[
          {
            name: COMMON.proof,
            content: (
              <ImportPanel
                rows={read?.scan.rows ?? null}
                columns={columns}
                notFitting={notFitting}
                misfits={misfits}
                onMisfits={setMisfits}
                once={once}
                onOnce={setOnce}
                into={into}
                onInto={setInto}
                tables={tables}
              />
            ),
          },
        ]}
      />
    </div>
  );
}

/** What was met in a file that somebody should look at. */
function ScanNotices({ scan: { renamed, ragged } }: { scan: Scanned["scan"] }) {
  const locale = useLocale();
  return (
    <>
      {renamed > 0 && <Notice tone="look">{WORDS.headersRenamed(counted(renamed, "heading", locale))}</Notice>}
      {ragged.rows > 0 && (
        <Notice tone="look">
          {WORDS.raggedRows(counted(ragged.rows, "row", locale), ragged.rows === 1 ? "has" : "have", writeCount(ragged.first ?? 0, locale))}
        </Notice>
      )}
    </>
  );
}
