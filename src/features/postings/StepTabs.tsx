"use client";

import { tablesForNextStep } from "@/core/posting/edit";
import type { PostingSpec } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import { BriefPopover } from "@/ui/Brief";
import { Choice } from "../editors/parts";
import { Tab } from "./Tab";
import { WORDS } from "./words";

type Props = {
  spec: PostingSpec;
  schema: Schema;
  at: number;
  choose: (step: number) => void;
  add: (target: Table) => void;
  remove: (step: number) => void;
};

/** The steps of a posting, of which one is looked at; a further one is added into a table. */
export function StepTabs({ spec, schema, at, choose, add, remove }: Props) {
  const steps = stepsOf(spec);
  return (
    <div className={`flex flex-wrap items-end gap-3 ${steps.length > 1 ? "" : "pb-1"}`}>
      {steps.length > 1 && (
        <div role="tablist" aria-label={WORDS.stepTabs} className="flex flex-wrap gap-1">
          {steps.map((step, i) => (
            <Tab key={i} chosen={at === i} choose={() => choose(i)}>
              {WORDS.stepTab(i + 1, findTable(schema, step.target)?.label ?? step.target)}
            </Tab>
          ))}
        </div>
      )}
      <BriefPopover label={WORDS.addStep} className="link text-small">
        {(close) => (
          <>
            <p className="caption pb-1">{WORDS.addStepInto}</p>
            <div className="max-h-72 overflow-auto">
              {tablesForNextStep(spec, schema).map((table) => (
                <Choice
                  key={table.name}
                  onClick={() => {
                    add(table);
                    close();
                  }}
                >
                  {table.label}
                </Choice>
              ))}
            </div>
          </>
        )}
      </BriefPopover>
      {at > 0 && (
        <button type="button" className="link text-small text-vermilion" onClick={() => remove(at)}>
          {WORDS.removeStep}
        </button>
      )}
    </div>
  );
}
