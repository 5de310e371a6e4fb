"use client";

import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { findTable, type Schema } from "@/core/schema/schema";
import { Notice } from "@/ui/Notice";
import { isAbort, sentenceOf } from "../../ask";
import { bringList } from "../../import/bringList";
import { LIST_FILES, rowsAsFile } from "../../import/pastedFile";
import { COMMON } from "../../words";
import { WORDS } from "../words";

/** A list as a file, or pasted: taken in as a table, which is then chosen. */
export function ListFromElsewhere({ schema, choose }: { schema: Schema; choose: (table: string) => void }) {
  const [rows, setRows] = useState("");
  const { bring, stop, progress, failure } = useList(schema, choose);
  const input = useRef<HTMLInputElement>(null);
  if (progress !== null)
    return (
      <div className="grid gap-2 pt-3 text-small text-soft" role="status">
        {WORDS.readingTheList}
        <span className="flex items-center gap-2">
          <progress className="min-w-0 flex-1 accent-bottle" value={progress} max={1} aria-label={WORDS.readingTheList} />
          <button type="button" className="small-button" onClick={stop}>
            {COMMON.stop}
          </button>
        </span>
      </div>
    );
  const several = rows.trim().includes("\n");
  return (
    <section className="mt-3 grid gap-2 border-t border-hairline pt-3" aria-label={WORDS.listFromElsewhere}>
      <p className="caption">{WORDS.listFromElsewhere}</p>
      <textarea
        className="field h-14 resize-none font-mono text-small"
        aria-label={WORDS.pasteRows}
        placeholder={WORDS.pasteRows}
        value={rows}
        onChange={(e) => setRows(e.target.value)}
        spellCheck={false}
      />
      <span className="flex flex-wrap gap-2">
        <button type="button" className="small-button" disabled={!several} onClick={() => void bring(rowsAsFile(rows))}>
          {WORDS.compareWithTheseRows}
        </button>
        <button type="button" className="small-button" onClick={() => input.current?.click()}>
          {WORDS.chooseFile}
        </button>
      </span>
      <input
        ref={input}
        type="file"
        className="sr-only"
        tabIndex={-1}
        aria-label={WORDS.fileToCompareWith}
        accept={LIST_FILES}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) void bring(file);
          e.target.value = "";
        }}
      />
      <p className="text-small text-soft">{WORDS.listBecomesTable}</p>
      {failure && <Notice tone="wrong">{failure}</Notice>}
    </section>
  );
}

/** A list on its way in: it is chosen as soon as the page knows its table. */
function useList(schema: Schema, choose: (table: string) => void) {
  const router = useRouter();
  const [progress, setProgress] = useState<number | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [awaited, setAwaited] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  useEffect(() => () => abort.current?.abort(), []);
  useEffect(() => {
    if (awaited === null || !findTable(schema, awaited)) return;
    setAwaited(null);
    choose(awaited);
  }, [awaited, schema, choose]);

  async function bring(file: File): Promise<void> {
    const stopping = new AbortController();
    abort.current = stopping;
    setFailure(null);
    try {
      const table = await bringList(
        file,
        schema.tables.map((t) => t.name),
        setProgress,
        stopping.signal,
      );
      setAwaited(table);
      router.refresh();
    } catch (error) {
      setProgress(null);
      setFailure(isAbort(error) ? WORDS.listStopped : sentenceOf(error));
    }
  }
  return { bring, stop: () => abort.current?.abort(), progress, failure };
}
