"use client";

import { useState } from "react";
import { bindingWords, ruleWords } from "@/core/brief/scheduleBrief";
import { PARAMETER_TYPES } from "@/core/query/parameters";
import { FORMATS, SUBJECT_FORMATS, WEEKDAYS } from "@/core/schedule/choices";
import { messageProblem } from "@/core/schedule/message";
import type { ScheduleMessage, ScheduleRule, ScheduleSpec } from "@/core/schedule/spec";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/relative";
import type { Subject } from "@/server/services/scheduler/state";
import { filled } from "@/ui/filled";
import { onEnter } from "@/ui/onEnter";
import { ValueInput } from "../editors/ValueInput";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { EachEditor } from "./EachEditor";
import { WORDS } from "./words";

type Props = { part: string; spec: ScheduleSpec; subjects: Subject[]; save: (next: ScheduleSpec) => void; close: () => void };

/** The editor of one phrase of a schedule's brief. */
export function ScheduleEditor(props: Props) {
  const { part } = props;
  if (part === "rule") return <RuleEditor {...props} />;
  if (part === "time") return <TimeEditor {...props} />;
  if (part === "subject") return <SubjectEditor {...props} />;
  if (part === "formats") return <FormatsEditor {...props} />;
  if (part === "folder") return <FolderEditor {...props} />;
  if (part === "each") return <EachEditor {...props} />;
  if (part === "message") return <MessageEditor {...props} />;
  return <BindingEditor {...props} name={part.replace(/^binding /, "")} />;
}

const Pick = ({ on, onClick, children }: { on: boolean; onClick: () => void; children: React.ReactNode }) => (
  <button type="button" aria-pressed={on} onClick={onClick} className={`menu-item ${on ? "font-semibold text-bottle" : ""}`}>
    {on ? "✓ " : ""}
    {children}
  </button>
);

const SIMPLE: ScheduleRule[] = [{ kind: "daily" }, { kind: "workingDays" }, { kind: "lastWorkingDay" }];

function RuleEditor({ spec, save, close }: Props) {
  const { rule } = spec;
  const days = rule.kind === "weekdays" ? rule.days : [];
  const toggle = (day: number) => {
    const next = days.includes(day) ? days.filter((d) => d !== day) : [...days, day].sort();
    if (next.length > 0) save({ ...spec, rule: { kind: "weekdays", days: next } });
  };
  return (
    <>
      {SIMPLE.map((r) => (
        <Pick
          key={r.kind}
          on={r.kind === rule.kind}
          onClick={() => {
            save({ ...spec, rule: r });
            close();
          }}
        >
          {ruleWords(r)}
        </Pick>
      ))}
      <fieldset className="mt-2">
        <legend className="caption">{WORDS.chosenWeekdays}</legend>
        <div className="grid grid-cols-2">
          {WEEKDAYS.map((name, i) => (
            <label key={name} className="flex gap-2 py-0.5">
              <input type="checkbox" className="accent-bottle" checked={days.includes(i + 1)} onChange={() => toggle(i + 1)} />
              {name}
            </label>
          ))}
        </div>
      </fieldset>
      <label className="mt-2 flex items-center gap-2 border-t border-hairline pt-2">
        {filled(
          WORDS.dayOfTheMonth,
          <input
            type="number"
            min={1}
            max={31}
            className="field w-20"
            value={rule.kind === "monthDay" ? rule.day : ""}
            onChange={(e) => {
              const day = Math.trunc(Number(e.target.value));
              if (day >= 1 && day <= 31) save({ ...spec, rule: { kind: "monthDay", day } });
            }}
          />,
        )}
      </label>
      <p className="pt-1 text-small text-soft">{WORDS.workingDaysAreMondayTo}</p>
    </>
  );
}

function TimeEditor({ spec, save, close }: Props) {
  const [zone, setZone] = useState(spec.zone);
  const zones = Intl.supportedValuesOf("timeZone");
  return (
    <>
      <label className="grid gap-1">
        {WORDS.at}
        <input
          type="time"
          className="field"
          value={spec.time}
          onChange={(e) => {
            if (e.target.value) save({ ...spec, time: e.target.value.slice(0, 5) });
          }}
          onKeyDown={onEnter(close)}
        />
      </label>
      <label className="grid gap-1 pt-2">
        {WORDS.timeZone}
        <input
          className="field"
          list="zones"
          value={zone}
          onChange={(e) => {
            setZone(e.target.value);
            if (zones.includes(e.target.value) || e.target.value === "UTC") save({ ...spec, zone: e.target.value });
          }}
        />
        <datalist id="zones">
          {zones.map((z) => (
            <option key={z} value={z} />
          ))}
        </datalist>
      </label>
    </>
  );
}

function SubjectEditor({ spec, subjects, save, close }: Props) {
  return (
    <>
      {subjects.map((s) => (
        <Pick
          key={s.id}
          on={s.id === spec.subject.id}
          onClick={() => {
            const bindings = Object.fromEntries(Object.entries(spec.bindings).filter(([name]) => s.parameters.some((p) => p.name === name)));
            const kept = spec.formats.filter((f) => SUBJECT_FORMATS[s.kind].includes(f));
            save({ ...spec, each: null, subject: { kind: s.kind, id: s.id }, bindings, formats: kept.length > 0 ? kept : SUBJECT_FORMATS[s.kind].slice(0, 1) });
            close();
          }}
        >
          {s.name} <span className="text-soft">{s.kind}</span>
        </Pick>
      ))}
    </>
  );
}

function FormatsEditor({ spec, save }: Props) {
  return (
    <>
      <p className="caption pb-1">{WORDS.putIntoTheOutbox}</p>
      {SUBJECT_FORMATS[spec.subject.kind].map((format) => (
        <label key={format} className="flex gap-2 py-0.5">
          <input
            type="checkbox"
            className="accent-bottle"
            checked={spec.formats.includes(format)}
            onChange={(e) => {
              const formats = FORMATS.filter((f) => (f === format ? e.target.checked : spec.formats.includes(f)));
              if (formats.length > 0) save({ ...spec, formats });
            }}
          />
          {format.toUpperCase()}
        </label>
      ))}
    </>
  );
}

const NEW_MESSAGE: ScheduleMessage = { to: [], subject: "{name}, {day}", text: WORDS.theFilesOfDayAre, attach: true };

/** To whom a message goes with the files, and its words; kept when all of it holds. */
function MessageEditor({ spec, save, close }: Props) {
  const [draft, setDraft] = useState(spec.message ?? NEW_MESSAGE);
  const [to, setTo] = useState(draft.to.join("\n"));
  const next = { ...draft, to: to.split(/[\s,;]+/).filter((a) => a !== "") };
  const own = spec.each?.to !== null && spec.each?.to !== undefined;
  // Where each has an address of its own, none is written here.
  const wrong = messageProblem(own && next.to.length === 0 ? { ...next, to: ["each@example.org"] } : next);
  const set = (more: Partial<ScheduleMessage>) => setDraft({ ...draft, ...more });
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (wrong) return;
        save({ ...spec, message: next });
        close();
      }}
    >
      {own ? (
        <p>{WORDS.toEachOwn}</p>
      ) : (
        <label className="grid gap-0.5">
          {WORDS.toOneAddressPerLine}
          <textarea className="field h-12" value={to} onChange={(e) => setTo(e.target.value)} />
        </label>
      )}
      <label className="grid gap-0.5">
        {WORDS.subject}
        <input className="field" value={draft.subject} onChange={(e) => set({ subject: e.target.value })} />
      </label>
      <label className="grid gap-0.5">
        {WORDS.text}
        <textarea className="field h-14" value={draft.text} onChange={(e) => set({ text: e.target.value })} />
      </label>
      <label className="flex gap-2">
        <input type="checkbox" className="accent-bottle" checked={draft.attach} onChange={(e) => set({ attach: e.target.checked })} />
        {WORDS.attachTheFiles}
      </label>
      <p className="text-small text-soft">{own ? WORDS.nameDayAndColumns : WORDS.nameDayAndRowsAre}</p>
      {wrong && to.trim() !== "" && <p className="text-small text-vermilion">{wrong}</p>}
      <span className="flex gap-3">
        <button type="submit" className="button-primary" disabled={wrong !== null}>
          {COMMON.save}
        </button>
        {spec.message && (
          <button
            type="button"
            className="font-semibold text-vermilion hover:underline"
            onClick={() => {
              save({ ...spec, message: null });
              close();
            }}
          >
            {WORDS.removeMessage}
          </button>
        )}
      </span>
    </form>
  );
}

function FolderEditor({ spec, save, close }: Props) {
  const [folder, setFolder] = useState(spec.folder);
  const good = /^[^/\\.\0][^/\\\0]{0,79}$/.test(folder);
  const finish = () => {
    if (good && folder !== spec.folder) save({ ...spec, folder });
  };
  return (
    <>
      <label className="grid gap-1">
        {WORDS.outboxFolder}
        <input
          className="field"
          value={folder}
          onChange={(e) => setFolder(e.target.value)}
          onBlur={finish}
          onKeyDown={onEnter(() => {
            finish();
            close();
          })}
        />
      </label>
      {!good && <p className="pt-1 text-vermilion">{WORDS.aFolderNameHasNo}</p>}
    </>
  );
}

function BindingEditor({ spec, subjects, save, close, name }: Props & { name: string }) {
  const locale = useLocale();
  const type = subjects.find((s) => s.id === spec.subject.id)?.parameters.find((p) => p.name === name)?.type;
  const binding = spec.bindings[name] ?? { kind: "fixed" as const, text: "" };
  const set = (next: ScheduleSpec["bindings"][string]) => save({ ...spec, bindings: { ...spec.bindings, [name]: next } });
  return (
    <>
      <p className="caption pb-1">{WORDS.eachRun(name)}</p>
      {type === "date" &&
        (Object.keys(RELATIVE_DATES) as RelativeDate[]).map((date) => (
          <Pick
            key={date}
            on={binding.kind === "relative" && binding.date === date}
            onClick={() => {
              set({ kind: "relative", date });
              close();
            }}
          >
            {bindingWords({ kind: "relative", date }, locale)}
          </Pick>
        ))}
      <label className="grid gap-1 pt-2">
        {WORDS.always}
        <ValueInput
          type={PARAMETER_TYPES[type ?? "text"]}
          period={type === "period"}
          label={WORDS.always}
          value={binding.kind === "fixed" ? binding.text : ""}
          onChange={(text) => text && set({ kind: "fixed", text })}
        />
      </label>
      <button
        type="button"
        className="mt-2 font-semibold text-vermilion hover:underline"
        onClick={() => {
          const { [name]: _, ...bindings } = spec.bindings;
          save({ ...spec, bindings });
          close();
        }}
      >
        {WORDS.resetToTheQuerysDefault}
      </button>
    </>
  );
}
