"use client";

import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { rowsBrief } from "@/core/brief/brief";
import { withoutCondition } from "@/core/brief/editPhrase";
import type { RuleSpec, Who } from "@/core/people/spec";
import * as edit from "@/core/query/edit";
import { emptyQuery } from "@/core/query/empty";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { Brief, BriefPopover } from "@/ui/Brief";
import { ask, sentenceOf } from "../ask";
import { Choice, FieldPicker } from "../editors/parts";
import { phraseKey } from "../editors/phraseKey";
import { PhraseEditor } from "../queries/editors/PhraseEditor";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { Account } from "./account";
import { WORDS } from "./words";

type Rule = { id: string; name: string; revision: number; spec: RuleSpec };

/** Rules on rows: for whom, of which table, which rows. They hold in every query, page, figure and file. */
export function RulesPanel({ rules, people, schema }: { rules: Rule[]; people: Account[]; schema: Schema }) {
  const router = useRouter();
  async function add(table: string): Promise<void> {
    const spec: RuleSpec = { version: 1, who: { kind: "role", role: "viewer" }, query: emptyQuery(table) };
    await ask("/api/objects", { kind: "rule", name: table, spec }).then(
      () => router.refresh(),
      (error) => void toast.error(sentenceOf(error)),
    );
  }
  return (
    <div className="grid gap-5">
      <p className="max-w-2xl text-soft">{WORDS.aRowRuleLimitsWhich}</p>
      {rules.map((rule) => (
        <RuleRow key={rule.id} rule={rule} people={people} schema={schema} />
      ))}
      <BriefPopover label={WORDS.addRule} className="button justify-self-start">
        {(close) => (
          <>
            <p className="caption pb-1">{WORDS.rowsOf}</p>
            {schema.tables.map((t) => (
              <Choice
                key={t.name}
                onClick={() => {
                  close();
                  void add(t.name);
                }}
              >
                {t.label}
              </Choice>
            ))}
          </>
        )}
      </BriefPopover>
    </div>
  );
}

const KEEP_MS = 500;

/**
 * Keeps a rule as it is changed: one save at a time, each with the revision the one before it came to, and what is due
 * at once where its row goes. What is kept is not read again: a popover stays open while what it changes is saved.
 */
function useKept({ id, revision, spec: first }: Rule, spec: RuleSpec): void {
  const kept = useRef({ revision, saving: Promise.resolve() });
  const due = useRef<RuleSpec | null>(null);
  const save = useRef(() => {
    if (due.current === null) return;
    const next = due.current;
    due.current = null;
    kept.current.saving = kept.current.saving.then(() =>
      ask<{ revision: number }>(`/api/objects/${id}`, { spec: next, revision: kept.current.revision }, { method: "PATCH" }).then(
        (answer) => {
          kept.current.revision = answer.revision;
        },
        (error) => void toast.error(sentenceOf(error)),
      ),
    );
  });
  const last = useRef(first);
  useEffect(() => {
    if (spec === last.current) return;
    last.current = spec;
    due.current = spec;
    const timer = setTimeout(save.current, KEEP_MS);
    return () => clearTimeout(timer);
  }, [spec]);
  useEffect(() => save.current, []);
}

function RuleRow({ rule, people, schema }: { rule: Rule; people: Account[]; schema: Schema }) {
  const router = useRouter();
  const locale = useLocale();
  const [spec, setSpec] = useState(rule.spec);
  useKept(rule, spec);
  const change = (query: QuerySpec) => setSpec({ ...spec, query });
  const setWho = (value: string) => {
    const [kind, ...rest] = value.split(" ");
    const who: Who = kind === "person" ? { kind, person: rest.join(" ") } : { kind: "role", role: rest[0] as "viewer" };
    setSpec({ ...spec, who });
  };
  const props = { spec: spec.query, schema, change };
  const bare = spec.query.conditions.length === 0;
  return (
    <section className="border-t border-rule pt-3">
      <div className="flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2">
          {WORDS.forIt}
          <select
            className="field w-56"
            value={spec.who.kind === "role" ? `role ${spec.who.role}` : `person ${spec.who.person}`}
            onChange={(e) => setWho(e.target.value)}
          >
            <option value="role viewer">{WORDS.allViewers}</option>
            <option value="role analyst">{WORDS.allAnalysts}</option>
            {people
              .filter((p) => p.role !== "owner")
              .map((p) => (
                <option key={p.id} value={`person ${p.id}`}>
                  {p.name}
                </option>
              ))}
          </select>
        </label>
        <button
          type="button"
          className="ml-auto font-semibold text-vermilion hover:underline"
          onClick={() =>
            void ask(`/api/objects/${rule.id}`, {}, { method: "DELETE" }).then(
              () => router.refresh(),
              (error) => void toast.error(sentenceOf(error)),
            )
          }
        >
          {COMMON.remove}
        </button>
      </div>
      <Brief
        phrases={rowsBrief(spec.query, schema, locale)}
        keyOf={phraseKey}
        onDelete={(target) => change(withoutCondition(spec.query, target))}
        editor={(target, close) => <PhraseEditor target={target} {...props} close={close} />}
      >
        {" "}
        <BriefPopover label={COMMON.addCondition} className="chip">
          {(close) => (
            <FieldPicker
              {...props}
              close={close}
              caption={COMMON.onlyRowsWhere}
              pick={(next, operand) => change(edit.addCondition(next, schema, operand).spec)}
            />
          )}
        </BriefPopover>
      </Brief>
      {bare && <p className="text-small text-ochre">{WORDS.ruleHidesNothing}</p>}
    </section>
  );
}
