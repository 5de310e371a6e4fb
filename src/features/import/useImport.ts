import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { proposedAgain, withColumnClean } from "@/core/import/clean";
import { columnsProposed, misfitsIn, tableNameOf } from "@/core/import/propose";
import type { Clean, FileFormat, ImportColumn, ImportSpec } from "@/core/import/spec";
import { counted, writeCount } from "@/core/types/format";
import type { ScanAnswer, Scanned } from "@/server/services/import/service";
import { askWork, isAbort, sentenceOf } from "../ask";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** A file on its way in: what was read of it, how it is to be brought in, and bringing it in. One reading at a time. */
export function useImport(id: string, name: string) {
  const locale = useLocale();
  const router = useRouter();
  const [read, setRead] = useState<Scanned | null>(null);
  /** How the file is read, also where nothing can be read of it so. */
  const [form, setForm] = useState<Pick<ScanAnswer, "format" | "sheets"> | null>(null);
  const [columns, setColumns] = useState<ImportColumn[]>([]);
  const [misfits, setMisfits] = useState<ImportSpec["misfits"]>("keep");
  const [once, setOnce] = useState(false);
  const [into, setInto] = useState<ImportSpec["into"]>({ kind: "table", name: tableNameOf(name), key: null });
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

  /** Reads the file again with its columns cleaned otherwise; what was chosen for them stays. */
  async function setClean(at: number, clean: Clean | undefined): Promise<void> {
    if (!read) return;
    const next = withColumnClean(columns, at, clean);
    setColumns(next);
    const answer = await work<ScanAnswer>(`/api/imports/${id}/scan`, { format: read.format, cleans: next.map((c) => c.clean ?? null) });
    if (!answer?.scan) return;
    setColumns(proposedAgain(next, at, read.scan, answer.scan));
    setRead(answer);
  }

  async function scan(format: FileFormat | null): Promise<void> {
    const answer = await work<ScanAnswer>(`/api/imports/${id}/scan`, { format });
    if (!answer) return;
    setForm(answer);
    setRead(answer.scan ? answer : null);
    setColumns(answer.scan ? columnsProposed(answer.scan) : []);
    if (!answer.scan) setFailure(answer.refused);
  }
  useEffect(() => {
    void scan(null);
    return () => abort.current?.abort();
  }, []);

  async function bring(): Promise<void> {
    if (!read) return;
    const spec: ImportSpec = { format: read.format, columns, misfits, into, ...(once ? { once } : {}) };
    const answer = await work<{ imported: { rows: number; leftOut: number }; posting: string | null }>(`/api/imports/${id}/run`, spec);
    if (!answer) return;
    toast(
      WORDS.imported(
        counted(answer.imported.rows, "row", locale),
        answer.imported.leftOut > 0 ? WORDS.skipped(writeCount(answer.imported.leftOut, locale)) : "",
      ),
    );
    router.push(answer.posting ? `/postings/${answer.posting}` : `/tables/${encodeURIComponent(into.kind === "table" ? into.name : into.target)}`);
    router.refresh();
  }

  const stop = () => {
    abort.current?.abort();
    setProgress(null);
    setFailure(WORDS.stoppedNothingWasImported);
  };
  const notFitting = read ? misfitsIn(read.scan.columns, columns) : [];
  return { read, form, scan, columns, setColumns, setClean, once, setOnce, misfits, setMisfits, into, setInto, notFitting, failure, progress, bring, stop };
}
