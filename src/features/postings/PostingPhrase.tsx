"use client";

import { ACTIONS, type Action, type Present } from "@/core/posting/choices";
import { withStep, withTarget } from "@/core/posting/edit";
import type { PostingSpec } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { findColumn, findTable, mayChange, type Schema } from "@/core/schema/schema";
import { Choice, Tick } from "../editors/parts";
import { SourceChoices } from "./SourceChoices";
import { WORDS } from "./words";

type Props = {
  step: number;
  part: string;
  spec: PostingSpec;
  schema: Schema;
  queries: { id: string; name: string }[];
  /** Makes an archive of the table that rows are moved from, and moves them there; null where they are not those of a table. */
  archive: { label: string; make: () => void } | null;
  change: (next: PostingSpec) => void;
  close: () => void;
};

const ACTION_CHOICES: Record<Action, { label: string; about: string }> = {
  add: { label: WORDS.add, about: WORDS.rowsThatDoNotExist },
  change: { label: WORDS.change, about: WORDS.matchingRows },
  remove: { label: WORDS.remove, about: WORDS.matchingRows },
  move: { label: WORDS.move, about: WORDS.rowsOfTheSource },
};

const PRESENT_CHOICES: [Present, string][] = [
  ["leave", WORDS.leftUnchanged],
  ["change", WORDS.updatedFromTheSource],
  ["add", WORDS.addedAnyway],
];

/** The editor of one phrase of a posting's brief. */
export function PostingPhrase({ step: at, part, spec, schema, queries, archive, change, close }: Props) {
  const step = stepsOf(spec)[at];
  if (!step) return null;
  const done = (next: PostingSpec) => {
    change(next);
    close();
  };
  const pick = (next: Parameters<typeof withStep>[2]) => () => done(withStep(spec, at, next));
  const table = findTable(schema, step.target);
  switch (part) {
    case "source":
      return <SourceChoices source={step.source} schema={schema} queries={queries} pick={(source) => done(withStep(spec, at, { source }))} />;
    case "action":
      return ACTIONS.map((action) => (
        <Choice key={action} chosen={step.action === action} onClick={pick({ action })}>
          {ACTION_CHOICES[action].label} <span className="text-small text-soft">{ACTION_CHOICES[action].about}</span>
        </Choice>
      ));
    case "target":
      return (
        <>
          {step.action === "move" && archive && (
            <Choice
              onClick={() => {
                archive.make();
                close();
              }}
            >
              {WORDS.newArchive} <span className="text-small text-soft">{WORDS.newArchiveAbout(archive.label)}</span>
            </Choice>
          )}
          <p className="caption pb-1">{WORDS.target}</p>
          {schema.tables.filter(mayChange).map((t) => (
            <Choice key={t.name} chosen={t.name === step.target} onClick={() => done(withTarget(spec, at, t.name))}>
              {t.label}
            </Choice>
          ))}
        </>
      );
    case "same":
      return (
        <>
          <p className="caption pb-1">{WORDS.matchRowsBy}</p>
          {step.pairs.map((p) => (
            <label key={p.column} className="flex gap-2 py-0.5">
              <input
                type="checkbox"
                className="accent-bottle"
                checked={step.same.includes(p.column)}
                onChange={(e) => change(withStep(spec, at, { same: e.target.checked ? [...step.same, p.column] : step.same.filter((c) => c !== p.column) }))}
              />
              {(table && findColumn(table, p.column)?.label) ?? p.column}
            </label>
          ))}
          {step.pairs.length > 0 && (
            <div className="mt-2 border-t border-hairline pt-2">
              <Tick checked={step.alike ?? false} set={(alike) => change(withStep(spec, at, { alike: alike || undefined }))}>
                {WORDS.matchAlike}
              </Tick>
            </div>
          )}
          {step.pairs.length === 0 && <p className="text-soft">{WORDS.mapAColumnFirst}</p>}
        </>
      );
    case "present":
      return (
        <>
          <p className="caption pb-1">{WORDS.existingRows}</p>
          {PRESENT_CHOICES.map(([present, words]) => (
            <Choice key={present} chosen={step.present === present} onClick={pick({ present })}>
              {words}
            </Choice>
          ))}
        </>
      );
    case "breaking":
      return (
        <>
          <p className="caption pb-1">{WORDS.rowsThatOtherRowsRefer}</p>
          <Choice chosen={step.breaking === "refuse"} onClick={pick({ breaking: "refuse" })}>
            {WORDS.refused}
          </Choice>
          <Choice chosen={step.breaking === "allow"} onClick={pick({ breaking: "allow" })}>
            {step.action === "move" ? WORDS.movedAnyway : WORDS.removedAnyway}{" "}
            <span className="text-small text-soft">{WORDS.theReferencesThenLeadNowhere}</span>
          </Choice>
        </>
      );
    default:
      return null;
  }
}
