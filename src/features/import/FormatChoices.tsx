"use client";

import { ENCODINGS, type FileFormat } from "@/core/import/spec";

type Props = { format: FileFormat; sheets: string[]; disabled: boolean; onChange: (next: FileFormat) => void };

const DELIMITERS: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", "|": "bar" };
const KINDS: Record<FileFormat["kind"], string> = { delimited: "delimited text", sheet: "a workbook", json: "JSON", ndjson: "JSON, a row a line" };

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
        Read as <b>{KINDS[format.kind]}</b>
      </span>
      {format.kind === "delimited" && (
        <>
          {choice("delimiter", format.delimiter, Object.entries(DELIMITERS), (delimiter) => onChange({ ...format, delimiter }))}
          {choice("quote", format.quote, Object.entries({ '"': '"', "'": "'", "": "none" }), (quote) => onChange({ ...format, quote: quote as '"' }))}
          {choice(
            "letters",
            format.encoding,
            ENCODINGS.map((e) => [e, e]),
            (encoding) => onChange({ ...format, encoding: encoding as "utf-8" }),
          )}
          {tick("first line has the headings", format.heading, (heading) => onChange({ ...format, heading }))}
          {tick("decimal comma", format.comma, (comma) => onChange({ ...format, comma }))}
        </>
      )}
      {format.kind === "sheet" && (
        <>
          {choice(
            "sheet",
            format.sheet,
            sheets.map((s) => [s, s]),
            (sheet) => onChange({ ...format, sheet }),
          )}
          {choice(
            "headings in row",
            String(format.heading),
            [["0", "none"], ...Array.from({ length: 20 }, (_, i): [string, string] => [String(i + 1), String(i + 1)])],
            (heading) => onChange({ ...format, heading: Number(heading) }),
          )}
        </>
      )}
    </div>
  );
}
