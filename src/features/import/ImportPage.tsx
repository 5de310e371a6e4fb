"use client";

import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { fitting, tableNameOf } from "@/core/import/propose";
import type { FileFormat, ImportColumn, ImportSpec } from "@/core/import/spec";
import { counted, writeCount } from "@/core/types/format";
import type { ScanAnswer } from "@/server/import/service";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { askWork, isAbort, sentenceOf } from "../ask";
import { useLocale } from "../shell/Shell";
import { ColumnChoices } from "./ColumnChoices";
import { FirstRows } from "./FirstRows";
import { FormatChoices } from "./FormatChoices";
import { ImportPanel } from "./ImportPanel";

type Into = ImportSpec["into"];

/** A file on its way in: how it is read, what its columns are, and its first rows as they will be. */
export function ImportPage({ id, name, bytes, tables }: { id: string; name: string; bytes: number; tables: { name: string; label: string }[] }) {
  const locale = useLocale();
  const router = useRouter();
  const [read, setRead] = useState<ScanAnswer | null>(null);
  const [columns, setColumns] = useState<ImportColumn[]>([]);
  const [misfits, setMisfits] = useState<ImportSpec["misfits"]>("keep");
  const [into, setInto] = useState<Into>({ kind: "table", name: tableNameOf(name), key: null });
  const [failure, setFailure] = useState<string | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const abort = useRef<AbortController | null>(null);

  async function work<T>(path: string, body: unknown): Promise<T | null> {
    abort.current?.abort();
    abort.current = new AbortController();
    setFailure(null);
    setProgress(0);
    try {
      const result = await askWork<T>(path, body, setProgress, abort.current.signal);
      setProgress(null);
      return result;
    } catch (error) {
      if (isAbort(error)) return null;
      setProgress(null);
      setFailure(sentenceOf(error));
      return null;
    }
  }

  async function scan(format: FileFormat | null): Promise<void> {
    const answer = await work<ScanAnswer>(`/api/imports/${id}/scan`, { format });
    if (!answer) return;
    setRead(answer);
    setColumns(
      answer.scan.names.map((column, i) => {
        const { proposal } = answer.scan.columns[i] ?? {};
        return { name: column, type: proposal?.type ?? { kind: "text" }, dates: proposal?.dates ?? "ymd", left: false };
      }),
    );
  }
  useEffect(() => {
    void scan(null);
    return () => abort.current?.abort();
  }, []);

  async function bring(): Promise<void> {
    if (!read) return;
    const spec: ImportSpec = { format: read.format, columns, misfits, into };
    const answer = await work<{ imported: { rows: number; leftOut: number }; posting: string | null }>(`/api/imports/${id}/run`, spec);
    if (!answer) return;
    toast(
      `${counted(answer.imported.rows, "row", locale)} brought in${answer.imported.leftOut > 0 ? `, ${writeCount(answer.imported.leftOut, locale)} left out` : ""}.`,
    );
    router.push(answer.posting ? `/postings/${answer.posting}` : `/tables/${encodeURIComponent(into.kind === "table" ? into.name : into.target)}`);
    router.refresh();
  }

  const stop = () => {
    abort.current?.abort();
    setProgress(null);
    setFailure("Stopped. Nothing was brought in.");
  };
  const notFitting = read
    ? columns.map((c, i) => {
        const tally = read.scan.columns[i]?.tally;
        return tally && !c.left ? tally.filled - fitting(tally, c.type, c.dates) : 0;
      })
    : [];
  const busy = progress !== null;
  const ready = read !== null && !busy && columns.some((c) => !c.left);

  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <div className="flex flex-wrap items-center gap-3">
          <h1 className="font-serif text-title font-semibold">{name}</h1>
          <span className="text-small text-soft">
            {writeCount(Math.max(1, Math.round(bytes / 1024)), locale)} kB{read ? ` · ${counted(read.scan.rows, "row", locale)}` : ""} · nothing is brought in
            yet
          </span>
          <span className="ml-auto flex gap-2">
            {busy && (
              <button type="button" className="button" onClick={stop}>
                Stop
              </button>
            )}
            <button type="button" className="button-primary" disabled={!ready} onClick={bring}>
              {into.kind === "table" ? "Make the table" : "Prepare the posting"}
            </button>
          </span>
        </div>
        {busy && (
          <div className="flex items-center gap-3 text-small text-soft" role="status">
            <progress className="w-64 accent-bottle" value={progress} max={1} aria-label="How far the file is read" />
            Reading the whole file…
          </div>
        )}
        {failure && <Notice tone="wrong">{failure}</Notice>}
        {read && <FormatChoices format={read.format} sheets={read.sheets} disabled={busy} onChange={(format) => void scan(format)} />}
        {read && read.scan.renamed > 0 && (
          <Notice tone="look">
            {counted(read.scan.renamed, "heading", locale)} stood empty, twice or too long, and got a name of its own. Change it below.
          </Notice>
        )}
        {read && read.scan.ragged.rows > 0 && (
          <Notice tone="look">
            {counted(read.scan.ragged.rows, "row", locale)} {read.scan.ragged.rows === 1 ? "has" : "have"} fewer or more values than there are headings, the
            first of them row {writeCount(read.scan.ragged.first ?? 0, locale)}. The file may be cut off there, or read with another delimiter. Missing values
            are left empty.
          </Notice>
        )}
        {read && <ColumnChoices columns={columns} scan={read.scan} notFitting={notFitting} onChange={setColumns} />}
        {read && <FirstRows rows={read.scan.first} columns={columns} misfits={misfits} comma={read.format.kind === "delimited" && read.format.comma} />}
      </section>
      <Margin
        parts={[
          {
            name: "Proof",
            content: (
              <ImportPanel
                rows={read?.scan.rows ?? null}
                columns={columns}
                notFitting={notFitting}
                misfits={misfits}
                onMisfits={setMisfits}
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
