"use client";

import { useRouter } from "next/navigation";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { BroughtFile } from "@/server/services/import/files";
import { askFile, sentenceOf } from "../ask";
import { LIST_FILES, pastedFile } from "./pastedFile";
import { WORDS } from "./words";

/** A page onto which a file can be dropped, or rows pasted; a button does the same. */
export function ImportDrop({ children }: { children: (choose: () => void) => ReactNode }) {
  const router = useRouter();
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState<string | null>(null);

  async function bring(file: File): Promise<void> {
    setSending(file.name);
    try {
      const kept = await askFile<BroughtFile>("/api/imports", file);
      router.push(`/tables/import/${kept.id}`);
    } catch (error) {
      toast.error(sentenceOf(error));
      setSending(null);
    }
  }

  useEffect(() => {
    const onPaste = (event: ClipboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches("input, textarea")) return;
      const file = pastedFile(event.clipboardData);
      if (file === "no table") toast(WORDS.thisIsNotATable);
      else if (file) void bring(file);
    };
    window.addEventListener("paste", onPaste);
    return () => window.removeEventListener("paste", onPaste);
  });

  return (
    <div
      className={`relative h-full ${over ? "bg-bottle-tint" : ""}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        const [file] = e.dataTransfer.files;
        if (file) void bring(file);
      }}
    >
      {children(() => input.current?.click())}
      <input
        ref={input}
        type="file"
        aria-label={WORDS.fileToImport}
        className="sr-only"
        tabIndex={-1}
        accept={LIST_FILES}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) void bring(file);
          e.target.value = "";
        }}
      />
      {(over || sending) && (
        <div
          className="pointer-events-none absolute inset-4 grid place-items-center rounded-lg border-2 border-dashed border-bottle bg-bottle-tint/80 text-brief"
          role="status"
        >
          {sending ? WORDS.uploading(sending) : WORDS.dropToImportTheFile}
        </div>
      )}
    </div>
  );
}
