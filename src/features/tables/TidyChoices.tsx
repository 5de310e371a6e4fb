"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { Tidy } from "@/core/posting/tidy";
import type { Column, Table } from "@/core/schema/schema";
import { Choice } from "../editors/parts";
import { WORDS as POSTING_WORDS } from "../postings/words";
import { useMakeFrom } from "../useMakeFrom";
import { WORDS } from "./words";

const { tidies } = POSTING_WORDS;

/** What tidies a column: each makes a draft posting, which shows what becomes of every row before anything is changed. */
export function TidyChoices({ table, column }: { table: Table; column: Column }) {
  const make = useMakeFrom();
  const router = useRouter();
  const [replacing, setReplacing] = useState(false);
  const tidy = (how: Tidy) => void make("/api/postings/tidy", "/postings", { table: table.name, column: column.name, tidy: how });
  return (
    <>
      {column.type.kind === "text" &&
        (["trim", "title", "upper", "lower"] as const).map((kind) => (
          <Choice key={kind} onClick={() => tidy({ kind })}>
            {tidies[kind]}
          </Choice>
        ))}
      <Choice onClick={() => tidy({ kind: "down" })}>{tidies.down}</Choice>
      <Choice onClick={() => setReplacing(!replacing)}>{`${tidies.replace}…`}</Choice>
      {replacing && <Replace preview={tidy} />}
      <Choice onClick={() => router.push(`/tables/${encodeURIComponent(table.name)}/duplicates?by=${encodeURIComponent(column.name)}`)}>
        {WORDS.findDuplicates}
      </Choice>
    </>
  );
}

function Replace({ preview }: { preview: (how: Tidy) => void }) {
  const [find, setFind] = useState("");
  const [instead, setInstead] = useState("");
  const [whole, setWhole] = useState(false);
  return (
    <form
      className="grid gap-1.5 py-1 text-small"
      onSubmit={(e) => {
        e.preventDefault();
        preview({ kind: "replace", find, instead, whole });
      }}
    >
      <input className="field" aria-label={WORDS.find} placeholder={WORDS.find} value={find} onChange={(e) => setFind(e.target.value)} />
      <input className="field" aria-label={WORDS.replaceWith} placeholder={WORDS.replaceWith} value={instead} onChange={(e) => setInstead(e.target.value)} />
      <label className="flex items-center gap-1.5">
        <input type="checkbox" className="accent-bottle" checked={whole} onChange={(e) => setWhole(e.target.checked)} />
        {WORDS.wholeValue}
      </label>
      <button type="submit" className="button-primary justify-self-start" disabled={find === ""}>
        {WORDS.previewReplace}
      </button>
    </form>
  );
}
