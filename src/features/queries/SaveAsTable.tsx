"use client";

import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
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
    <Dialog open onClose={close} className="relative z-50">
      <DialogPanel className="fixed inset-y-0 right-0 w-96 max-w-full overflow-auto border-l-[3px] border-double border-column bg-paper px-5 py-4 shadow-lg">
        <div className="flex items-start justify-between gap-3 pb-3">
          <DialogTitle className="font-serif text-[1.125rem] font-semibold">{WORDS.saveRowsAsTable}</DialogTitle>
          <button type="button" className="small-button" aria-label={COMMON.close} onClick={close}>
            ×
          </button>
        </div>
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
      </DialogPanel>
    </Dialog>
  );
}
