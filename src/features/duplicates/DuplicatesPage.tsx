"use client";

import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { type Duplicates, firstChoices, type GroupChoice, type Merged, mergedGroups, namesFew, withChoice } from "@/core/duplicates/merging";
import { storedColumns, type Table } from "@/core/schema/schema";
import { counted, writeCount } from "@/core/types/format";
import { isNumber } from "@/core/types/valueType";
import type { Entry } from "@/server/jobs/posting/journal";
import { BriefPopover } from "@/ui/Brief";
import { Confirm } from "@/ui/Confirm";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { Tick } from "../editors/parts";
import { Link } from "../Link";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { GroupRows } from "./GroupRows";
import { MergeProof } from "./MergeProof";
import { WORDS } from "./words";

/** What is asked: in which columns rows are alike, how near, and what becomes of values. */
type Question = { columns: string[]; near: boolean; fill: boolean };

/** Rows of a table that are alike, to be merged into one of each group. */
export function DuplicatesPage({ table, by }: { table: Table; by: string }) {
  const router = useRouter();
  const locale = useLocale();
  const [{ columns, near, fill }, setQuestion] = useState<Question>({ columns: [by], near: false, fill: true });
  const set = (change: Partial<Question>) => setQuestion((q) => ({ ...q, ...change }));
  const { answer, failure, running, again } = useAnswer<Duplicates>("/api/tables/duplicates", columns.length > 0 ? { table: table.name, columns, near } : null);
  const [choices, setChoices] = useState<GroupChoice[]>([]);
  useEffect(() => setChoices(answer ? firstChoices(answer) : []), [answer]);
  const groups = answer && choices.length === answer.groups.length ? mergedGroups(answer.groups, choices) : [];
  const asked = { table: table.name, groups, fill };
  const preview = useAnswer<Merged, object>("/api/tables/merge/preview", groups.length > 0 ? asked : null);
  const current = preview.answer !== null && !preview.running && JSON.stringify(preview.asked) === JSON.stringify(asked);
  const back = `/tables/${encodeURIComponent(table.name)}`;

  async function merge(): Promise<void> {
    try {
      const entry = await ask<Entry>("/api/tables/merge", { ...asked, digest: preview.answer?.digest ?? "" });
      toast(WORDS.merged(entry.number));
      again();
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }

  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <div className="flex flex-wrap items-center gap-3">
          <PageHeading name={WORDS.heading(table.label)} />
          <span className="text-small text-soft">{WORDS.nothingChanged}</span>
          <span className="ml-auto flex gap-2">
            <Link href={back} className="button">
              {COMMON.cancel}
            </Link>
            {current && preview.answer && preview.answer.groups > 0 ? (
              <Confirm label={WORDS.mergeButton(counted(preview.answer.groups, "group", locale))} button={WORDS.merge} act={() => void merge()}>
                {WORDS.confirm(counted(preview.answer.groups, "group", locale), counted(preview.answer.rowsBefore - preview.answer.rowsAfter, "row", locale))}
              </Confirm>
            ) : (
              <button type="button" className="button-primary" disabled>
                {WORDS.mergeButton(counted(groups.length, "group", locale))}
              </button>
            )}
          </span>
        </div>
        <p className="max-w-3xl text-soft">{WORDS.help}</p>
        <CompareBy table={table} columns={columns} near={near} fill={fill} set={set} />
        {failure && <Notice tone="wrong">{failure.message}</Notice>}
        {preview.failure && <Notice tone="wrong">{preview.failure.message}</Notice>}
        {answer && namesFew(answer) && <Notice tone="look">{WORDS.namesFew}</Notice>}
        {answer && answer.groups.length === 0 && !running && <Notice tone="look">{WORDS.none}</Notice>}
        {answer && answer.groups.length > 0 && (
          <GroupTable
            answer={answer}
            compared={columns}
            keyed={table.key}
            choices={choices}
            choose={(i, change) => setChoices((all) => withChoice(all, i, change))}
          />
        )}
        {answer && answer.all.groups > answer.groups.length && (
          <p className="text-small text-soft">{WORDS.told(writeCount(answer.groups.length, locale), counted(answer.all.groups, "group", locale))}</p>
        )}
      </section>
      <Margin parts={[{ name: COMMON.proof, content: preview.answer && groups.length > 0 ? <MergeProof merged={preview.answer} /> : null }]} />
    </div>
  );
}

type TableProps = {
  answer: Duplicates;
  compared: string[];
  keyed: string[];
  choices: GroupChoice[];
  choose: (at: number, change: Partial<GroupChoice>) => void;
};

/** The groups of rows that are alike, one under the other. */
function GroupTable({ answer: { columns, groups }, compared, keyed, choices, choose }: TableProps) {
  return (
    <div className="max-h-[75vh] shrink-0 overflow-auto border border-rule bg-sheet">
      <table className="w-full text-left">
        <thead className="sticky top-0 z-10 bg-sheet text-small">
          <tr className="border-b border-ink">
            <th className="px-2 py-1.5">{WORDS.merge}</th>
            <th className="px-2">{WORDS.keep}</th>
            <th className="px-2 text-right whitespace-nowrap">{WORDS.leadTo}</th>
            {columns.map((c) => (
              <th key={c.name} className={`px-2 whitespace-nowrap ${isNumber(c.type) ? "text-right" : ""}`}>
                {c.label}
              </th>
            ))}
          </tr>
        </thead>
        {groups.map((group, i) => (
          <GroupRows
            key={group.rows[0]?.key.join("\u0001")}
            {...{ group, columns, compared, keyed }}
            choice={choices[i] ?? { merged: false, keep: 0 }}
            choose={(change) => choose(i, change)}
          />
        ))}
      </table>
    </div>
  );
}

type CompareProps = Pick<Question, "columns" | "near" | "fill"> & { table: Table; set: (change: Partial<Question>) => void };

/** In which columns rows are alike, how near, and what becomes of values. */
function CompareBy({ table, columns, near, fill, set }: CompareProps) {
  const labels = columns.map((name) => table.columns.find((c) => c.name === name)?.label ?? name);
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
      <span>
        {WORDS.alikeBy}{" "}
        <BriefPopover
          label={labels.join(", ") || COMMON.nothing}
          name={WORDS.compareColumns}
          className="border-b border-dotted border-bottle font-semibold text-bottle"
        >
          {() => (
            <fieldset className="grid gap-0.5">
              <legend className="caption pb-1">{WORDS.compareColumns}</legend>
              {storedColumns(table).map((c) => (
                <Tick
                  key={c.name}
                  checked={columns.includes(c.name)}
                  set={(on) => set({ columns: on ? [...columns, c.name] : columns.filter((name) => name !== c.name) })}
                >
                  {c.label}
                </Tick>
              ))}
            </fieldset>
          )}
        </BriefPopover>
      </span>
      <Tick checked={near} set={(on) => set({ near: on })}>
        {WORDS.near}
      </Tick>
      <Tick checked={fill} set={(on) => set({ fill: on })}>
        {WORDS.fill}
      </Tick>
    </div>
  );
}
