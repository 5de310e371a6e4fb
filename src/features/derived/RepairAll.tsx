"use client";

import { useState } from "react";
import { toast } from "sonner";
import { type GoneLink, goneLinks, replacements, repointed } from "@/core/derive/repointAll";
import type { Schema, Table } from "@/core/schema/schema";
import { counted } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** Links that are gone and that several derived fields need: another is chosen once for all of them. */
export function RepairAll({ table, schema, done }: { table: Table; schema: Schema; done: () => void }) {
  return goneLinks(table, schema)
    .filter(({ fields }) => fields.length > 1)
    .map((gone) => <Repair key={gone.link} {...{ gone, table, schema, done }} />);
}

function Repair({ gone, table, schema, done }: { gone: GoneLink; table: Table; schema: Schema; done: () => void }) {
  const locale = useLocale();
  const choices = replacements(gone, table, schema);
  const [at, setAt] = useState(0);
  const chosen = choices[at];
  const labels = gone.fields.map((f) => f.label).join(", ");
  if (!chosen) return <Notice tone="wrong">{WORDS.noLinkInstead(counted(gone.fields.length, "derived field", locale), labels)}</Notice>;
  async function repair(): Promise<void> {
    try {
      const saved = await ask<{ id: string; name: string; spec: object; revision: number }[]>("/api/objects?kind=derived");
      for (const { id, definition } of gone.fields) {
        const field = saved.find((o) => o.id === id);
        const next = chosen && repointed(definition, chosen.step, schema);
        if (field && next)
          await ask(
            `/api/objects/${id}`,
            { name: field.name, spec: { ...field.spec, definition: next.definition }, revision: field.revision },
            { method: "PATCH" },
          );
      }
      toast(WORDS.repaired(labels, chosen?.name ?? ""));
      done();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <Notice tone="wrong">
      <span className="flex flex-wrap items-center gap-2">
        {WORDS.sameLinkGone(counted(gone.fields.length, "derived field", locale), labels)}
        <select className="field w-auto" aria-label={WORDS.linkInstead} value={at} onChange={(e) => setAt(Number(e.target.value))}>
          {choices.map((choice, i) => (
            <option key={`${choice.step.link} ${choice.step.toward}`} value={i}>
              {choice.name}
            </option>
          ))}
        </select>
        <button type="button" className="button" onClick={() => void repair()}>
          {WORDS.repairAll}
        </button>
        {chosen.dropped.length > 0 && <span className="text-small">{WORDS.wouldDrop(chosen.dropped.join(COMMON.and))}</span>}
      </span>
    </Notice>
  );
}
