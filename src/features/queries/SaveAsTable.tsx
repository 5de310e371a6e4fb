"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { SidePanel } from "../SidePanel";
import { WORDS } from "./words";

type Props = { file: { spec: QuerySpec; values: ParameterValues; name: string }; close: () => void };

/** Makes a table of a query's rows as they are now. */
export function SaveAsTable({ file: { spec, values, name: from }, close }: Props) {
  const router = useRouter();
  const [name, setName] = useState(from);
  const [failure, setFailure] = useState<string | null>(null);
  const [making, setMaking] = useState(false);
  async function make(): Promise<void> {
    setMaking(true);
    try {
      await ask("/api/query/table", { spec, values, name, from });
      toast(WORDS.tableMade(name.trim()));
      router.push(`/tables/${encodeURIComponent(name.trim())}`);
      router.refresh();
    } catch (error) {
      setFailure(sentenceOf(error));
      setMaking(false);
    }
  }
  return (
    <SidePanel title={WORDS.saveRowsAsTable} close={close}>
      <form
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        <label className="grid gap-0.5 text-small">
          {WORDS.tableName}
          <input className="field" aria-label={WORDS.tableName} value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <p className="text-small text-soft">{WORDS.tableOfRowsHelp}</p>
        {failure && <Notice tone="wrong">{failure}</Notice>}
        <button type="submit" className="button-primary justify-self-start" disabled={making || name.trim() === ""}>
          {WORDS.createTable}
        </button>
      </form>
    </SidePanel>
  );
}
