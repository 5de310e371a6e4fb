"use client";

import { useRef, useState } from "react";
import { MOST_BLOCK_CELLS } from "@/core/posting/block";
import { type PastedProblem, pastedRows } from "@/core/posting/pastedRows";
import type { Column, Schema, Table } from "@/core/schema/schema";
import { counted, type Locale, writeCount } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { useLocale } from "../workspace/locale";
import { useWays } from "../workspace/ways";
import { cellReader } from "./cellReader";
import { copiedRows } from "./sheetBlock";
import { WORDS } from "./words";

type Props = {
  table: Table;
  schema: Schema;
  /** Those that a row may be given values for, in the order in which they are pasted. */
  columns: Column[];
  /** Adds rows, all or none. @returns what is wrong with them, if anything */
  add: (rows: Record<string, string>[]) => Promise<string | null>;
};

/** Rows copied from another program, as new rows: looked at first, then added in one. */
export function PasteRows({ table, schema, columns, add }: Props) {
  const locale = useLocale();
  const { day } = useWays();
  const [text, setText] = useState("");
  const [ready, setReady] = useState<Record<string, string>[]>([]);
  const [problem, setProblem] = useState<string | null>(null);

  /** What is looked at last counts: names of linked rows take a while to be found. */
  const turn = useRef(0);
  async function look(next: string): Promise<void> {
    const mine = ++turn.current;
    setText(next);
    setReady([]);
    setProblem(null);
    const found = next.trim() === "" ? [] : await rowsIn(next);
    if (turn.current !== mine) return;
    if (typeof found === "string") setProblem(found);
    else setReady(found);
  }

  /** The rows of a copied text; or what is wrong with it. */
  async function rowsIn(copied: string): Promise<Record<string, string>[] | string> {
    const block = pastedRows(await copiedRows(copied), columns);
    if ("kind" in block) return pastedSentence(block, locale);
    const { read } = cellReader(table, schema, columns, { locale, day });
    const rows: Record<string, string>[] = [];
    for (const [i, line] of block.texts.entries()) {
      const row: Record<string, string> = {};
      for (const [k, at] of block.columns.entries()) {
        const column = columns[at];
        const value = await read(at, line[k] ?? "");
        if ("problem" in value) return WORDS.atPasted(i + 1, column?.label ?? "", value.problem);
        if (column && (value.text !== "" || !column.filled)) row[column.name] = value.text;
      }
      rows.push(row);
    }
    return rows;
  }

  const save = async () => setProblem(await add(ready));
  return (
    <details className="border-t border-hairline pt-3">
      <summary className="cursor-pointer font-semibold text-bottle">{WORDS.pasteRows}</summary>
      <div className="grid gap-2 pt-2">
        <p className="text-small text-soft">{WORDS.pasteRowsAbout(columns.map((c) => c.label).join(", "))}</p>
        <textarea
          className="field h-28 font-mono text-small"
          aria-label={WORDS.pasteRows}
          spellCheck={false}
          value={text}
          onChange={(e) => void look(e.target.value)}
        />
        {problem && <Notice tone="wrong">{problem}</Notice>}
        {ready.length > 0 && (
          <button type="button" className="button-primary justify-self-start" onClick={() => void save()}>
            {WORDS.addRows(counted(ready.length, "row", locale))}
          </button>
        )}
      </div>
    </details>
  );
}

function pastedSentence(problem: PastedProblem, locale: Locale): string {
  switch (problem.kind) {
    case "tooMany":
      return WORDS.blockTooLarge(writeCount(problem.cells, locale), writeCount(MOST_BLOCK_CELLS, locale));
    case "columnsBeyond":
      return WORDS.pastedTooWide(counted(problem.count, "column", locale));
    case "nothing":
      return WORDS.nothingCopied;
    default:
      return problem satisfies never;
  }
}
