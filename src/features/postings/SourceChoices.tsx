"use client";

import { useState } from "react";
import type { PostingSource } from "@/core/posting/spec";
import type { Schema } from "@/core/schema/schema";
import type { BroughtFile } from "@/server/services/import/files";
import { onEnter } from "@/ui/onEnter";
import { ask, askFile, sentenceOf } from "../ask";
import { Choice } from "../editors/parts";
import { WORDS } from "./words";

type Props = { source: PostingSource; schema: Schema; queries: { id: string; name: string }[]; pick: (source: PostingSource) => void };

/** Where the rows of a step come from: a table, a query, the next file, or the newest one of the inbox. */
export function SourceChoices({ source, schema, queries, pick }: Props) {
  const as = source.kind === "file" ? source.id : source.kind === "inbox" ? source.as : null;
  return (
    <>
      {as !== null && <FileChoices source={source} as={as} pick={pick} />}
      <p className="caption pb-1">{WORDS.fromATable}</p>
      {schema.tables.map((t) => (
        <Choice key={t.name} chosen={source.kind === "table" && source.table === t.name} onClick={() => pick({ kind: "table", table: t.name })}>
          {t.label}
        </Choice>
      ))}
      {queries.length > 0 && <p className="caption pt-2 pb-1">{WORDS.orAQuery}</p>}
      {queries.map((q) => (
        <Choice key={q.id} chosen={source.kind === "query" && source.id === q.id} onClick={() => pick({ kind: "query", id: q.id, values: {} })}>
          {q.name}
        </Choice>
      ))}
      {as === null && <p className="pt-2 text-small text-soft">{WORDS.fileSource}</p>}
    </>
  );
}

/** @param as the id of the file whose reading others follow */
function FileChoices({ source, as, pick }: { source: PostingSource; as: string; pick: Props["pick"] }) {
  const [like, setLike] = useState(source.kind === "inbox" ? source.like : source.kind === "file" ? likeOf(source.name) : "");
  const [failure, setFailure] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  async function bring(file: File): Promise<void> {
    setBusy(true);
    setFailure(null);
    try {
      const { id } = await askFile<BroughtFile>("/api/imports", file);
      pick(await ask<PostingSource>("/api/postings/next", { id, as }));
    } catch (error) {
      setFailure(sentenceOf(error));
    }
    setBusy(false);
  }

  const fromInbox = () => like.trim() !== "" && pick({ kind: "inbox", like: like.trim(), as });
  return (
    <div className="mb-2 grid gap-2 border-b border-hairline pb-2">
      <label className="small-button cursor-pointer justify-self-start focus-within:outline-2 focus-within:outline-bottle">
        {WORDS.nextFile}
        <input
          type="file"
          className="sr-only"
          disabled={busy}
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            if (file) void bring(file);
            e.target.value = "";
          }}
        />
      </label>
      <p className="text-small text-soft">{WORDS.nextFileAbout}</p>
      <p className="caption">{WORDS.inbox}</p>
      <div className="flex gap-2">
        <input
          className="field min-w-0 flex-1"
          aria-label={WORDS.inboxLike}
          placeholder={WORDS.inboxLike}
          value={like}
          onChange={(e) => setLike(e.target.value)}
          onKeyDown={onEnter(fromInbox)}
        />
        <button type="button" className="small-button" disabled={like.trim() === ""} onClick={fromInbox}>
          {WORDS.inboxUse}
        </button>
      </div>
      <p className="text-small text-soft">{WORDS.inboxAbout}</p>
      {failure && (
        <p role="alert" className="text-small text-vermilion">
          {failure}
        </p>
      )}
    </div>
  );
}

/** A file's name with its digits left open, as the next one is likely to be called: "manifest-*.csv". */
const likeOf = (name: string): string => name.replace(/\d[\d\-_. ]*\d|\d/g, "*");
