"use client";

import { CLEAN_CASE_WORDS, CLEAN_CASES } from "@/core/import/choices";
import { withClean } from "@/core/import/clean";
import type { Clean } from "@/core/import/spec";
import { counted } from "@/core/types/format";
import { BriefPopover } from "@/ui/Brief";
import { Tick } from "../editors/parts";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Props = { name: string; clean: Clean | undefined; set: (next: Clean | undefined) => void };

/** What is done with the texts of a column before anything is made of them: what is chosen, and the choices. */
export function CleanUp({ name, clean, set }: Props) {
  const locale = useLocale();
  const mapped = clean?.mapped ?? [];
  const said = [
    clean?.trim ? WORDS.trimmed : "",
    clean?.case ? CLEAN_CASE_WORDS[clean.case] : "",
    mapped.length > 0 ? WORDS.mappedCount(counted(mapped.length, "value", locale)) : "",
    clean?.down ? WORDS.filledDown : "",
  ].filter((words) => words !== "");
  return (
    <BriefPopover label={said.length > 0 ? WORDS.cleaned(said.join(", ")) : WORDS.cleanUp} name={WORDS.cleanUpOf(name)} className="link text-left text-small">
      {() => <CleanForm clean={clean} set={set} />}
    </BriefPopover>
  );
}

function CleanForm({ clean, set }: Omit<Props, "name">) {
  const change = (next: Partial<Clean>) => set(withClean(clean, next));
  return (
    <div className="grid gap-2 text-small">
      <Tick checked={clean?.trim ?? false} set={(trim) => change({ trim })}>
        {WORDS.trimSpaces}
      </Tick>
      <Tick checked={clean?.down ?? false} set={(down) => change({ down })}>
        {WORDS.fillDown}
      </Tick>
      <label className="flex items-center gap-2">
        {WORDS.letterCase}
        <select
          className="field w-auto"
          aria-label={WORDS.letterCase}
          value={clean?.case ?? ""}
          onChange={(e) => change({ case: (e.target.value || undefined) as Clean["case"] })}
        >
          <option value="">{WORDS.caseAsWritten}</option>
          {CLEAN_CASES.map((one) => (
            <option key={one} value={one}>
              {CLEAN_CASE_WORDS[one]}
            </option>
          ))}
        </select>
      </label>
      <ReplacedValues mapped={clean?.mapped ?? []} set={(mapped) => change({ mapped: mapped.length > 0 ? mapped : undefined })} />
    </div>
  );
}

type Mapped = NonNullable<Clean["mapped"]>;

/** Values that are read as others, one a line; the last line is for the next. A line counts once its field is left. */
function ReplacedValues({ mapped, set }: { mapped: Mapped; set: (next: Mapped) => void }) {
  const lines = [...mapped, { written: "", text: "" }];
  const write = (at: number, change: Partial<Mapped[number]>) =>
    set(lines.map((line, i) => (i === at ? { ...line, ...change } : line)).filter((line) => line.written !== ""));
  return (
    <fieldset className="grid gap-1">
      <legend className="caption pb-1">{WORDS.replaceValues}</legend>
      {lines.map((line, i) => (
        <span key={`${i} ${line.written}`} className="grid grid-cols-2 gap-1">
          <input
            className="field"
            aria-label={WORDS.mappedValue(i + 1)}
            placeholder={WORDS.value}
            defaultValue={line.written}
            onBlur={(e) => e.target.value !== line.written && write(i, { written: e.target.value })}
          />
          <input
            className="field"
            aria-label={WORDS.mappedTo(i + 1)}
            placeholder={WORDS.readAs}
            defaultValue={line.text}
            disabled={line.written === ""}
            onBlur={(e) => e.target.value !== line.text && write(i, { text: e.target.value })}
          />
        </span>
      ))}
    </fieldset>
  );
}
