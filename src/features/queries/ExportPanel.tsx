"use client";

import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { type ReactNode, useState } from "react";
import { showsNames } from "@/core/query/namedRows";
import type { Plan } from "@/core/query/plan";
import { ROW_FORMATS, type RowFormat } from "@/core/schedule/choices";
import { makeFile } from "../DeedsMenu";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = { file: { spec: object; values: object; name: string }; plan: Plan | null; close: () => void };

/** How rows are exported: in which format, with the names of rows beside their keys, with what they are of beside them. */
export function ExportPanel({ file, plan, close }: Props) {
  const [format, setFormat] = useState<RowFormat>("xlsx");
  const [asked, setAsked] = useState({ names: false, about: true, guarded: false });
  const named = plan?.columns.some((c) => showsNames(c) && !c.hidden) ?? false;
  const delimited = format === "csv" || format === "tsv";
  const choice = (key: keyof typeof asked, words: string, help: ReactNode) => (
    <label className="flex items-start gap-2">
      <input type="checkbox" className="mt-1 accent-bottle" checked={asked[key]} onChange={(e) => setAsked({ ...asked, [key]: e.target.checked })} />
      <span>
        {words} <span className="block text-small text-soft">{help}</span>
      </span>
    </label>
  );
  const make = () => {
    makeFile("/api/query/export", { ...file, names: named && asked.names, about: asked.about, guarded: delimited && asked.guarded }, format);
    close();
  };
  return (
    <Dialog open onClose={close} className="relative z-50">
      <DialogPanel className="fixed inset-y-0 right-0 w-96 max-w-full overflow-auto border-l-[3px] border-double border-column bg-paper px-5 py-4 shadow-lg">
        <div className="flex items-start justify-between gap-3 pb-3">
          <DialogTitle className="font-serif text-[1.125rem] font-semibold">{WORDS.exportRows}</DialogTitle>
          <button type="button" className="small-button" aria-label={COMMON.close} onClick={close}>
            ×
          </button>
        </div>
        <div className="grid gap-4">
          <label className="grid gap-0.5 text-small">
            {WORDS.format}
            <select className="field" value={format} onChange={(e) => setFormat(e.target.value as RowFormat)}>
              {ROW_FORMATS.map((f) => (
                <option key={f} value={f}>
                  {WORDS.formats[f]}
                </option>
              ))}
            </select>
          </label>
          {named && choice("names", WORDS.exportNames, WORDS.exportNamesHelp)}
          {choice("about", WORDS.exportAbout, format === "xlsx" ? WORDS.exportAboutSheet : WORDS.exportAboutFile)}
          {delimited && choice("guarded", WORDS.exportGuarded, WORDS.exportGuardedHelp)}
          <button type="button" className="button-primary justify-self-start" onClick={make}>
            {WORDS.export}
          </button>
        </div>
      </DialogPanel>
    </Dialog>
  );
}
