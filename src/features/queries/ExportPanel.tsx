"use client";

import { type ReactNode, useState } from "react";
import { showsNames } from "@/core/query/namedRows";
import type { Plan } from "@/core/query/plan";
import { ROW_FORMATS, type RowFormat } from "@/core/schedule/choices";
import { makeFile } from "../DeedsMenu";
import { SidePanel } from "../SidePanel";
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
    <SidePanel title={WORDS.exportRows} close={close}>
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
    </SidePanel>
  );
}
