"use client";

import { ENCODINGS } from "@/core/import/choices";
import type { FileFormat } from "@/core/import/spec";
import { WORDS } from "./words";

type Props = { format: FileFormat; sheets: string[]; disabled: boolean; onChange: (next: FileFormat) => void };

const DELIMITERS: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", "|": "bar" };
const KINDS: Record<FileFormat["kind"], string> = { delimited: WORDS.delimitedText, sheet: WORDS.workbook, json: "JSON", ndjson: WORDS.jsonLines };

/** How the file is read, as found out from it; a change reads it again. */
export function FormatChoices({ format, sheets, disabled, onChange }: Props) {
  const choice = (label: string, value: string, options: [string, string][], pick: (value: string) => void) => (
    <label className="flex items-center gap-1.5 text-small text-soft">
      {label}
      <select className="field w-auto" disabled={disabled} value={value} onChange={(e) => pick(e.target.value)}>
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
  const tick = (label: string, checked: boolean, set: (checked: boolean) => void) => (
    <label className="flex items-center gap-1.5 text-small text-soft">
      <input type="checkbox" className="accent-bottle" disabled={disabled} checked={checked} onChange={(e) => set(e.target.checked)} />
      {label}
    </label>
  );
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
      <span className="text-small">
        {WORDS.format} <b>{KINDS[format.kind]}</b>
      </span>
      {format.kind === "delimited" && (
        <>
          {choice(WORDS.delimiter, format.delimiter, Object.entries(DELIMITERS), (delimiter) => onChange({ ...format, delimiter }))}
          {choice(WORDS.quote, format.quote, Object.entries({ '"': '"', "'": "'", "": "none" }), (quote) => onChange({ ...format, quote: quote as '"' }))}
          {choice(
            WORDS.encoding,
            format.encoding,
            ENCODINGS.map((e) => [e, e]),
            (encoding) => onChange({ ...format, encoding: encoding as "utf-8" }),
          )}
          {tick(WORDS.firstRowIsAHeader, format.heading, (heading) => onChange({ ...format, heading }))}
          {tick(WORDS.decimalComma, format.comma, (comma) => onChange({ ...format, comma }))}
        </>
      )}
      {format.kind === "sheet" && (
        <>
          {choice(
            WORDS.sheet,
            format.sheet,
            sheets.map((s) => [s, s]),
            (sheet) => onChange({ ...format, sheet }),
          )}
          {choice(
            WORDS.headerInRow,
            String(format.heading),
            [["0", "none"], ...Array.from({ length: 20 }, (_, i): [string, string] => [String(i + 1), String(i + 1)])],
            (heading) => onChange({ ...format, heading: Number(heading) }),
          )}
        </>
      )}
    </div>
  );
}
