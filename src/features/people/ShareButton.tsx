"use client";

import { useCallback, useEffect, useState } from "react";
import { toast } from "sonner";
import type { Sharing } from "@/server/services/people/sharing";
import { BriefPopover } from "@/ui/Brief";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { useSignedIn } from "../workspace/person";
import { WORDS } from "./words";

const CHOICES = [
  { value: "", words: "not" },
  { value: "see", words: WORDS.canView },
  { value: "edit", words: COMMON.canEdit },
];

/** With whom an object is shared: nobody, some, everyone; shown where there are accounts. */
export function ShareButton({ id }: { id: string }) {
  const { person } = useSignedIn();
  if (!person) return null;
  return (
    <BriefPopover label={WORDS.share} className="link no-print min-h-6 text-small">
      {() => <Shares id={id} />}
    </BriefPopover>
  );
}

function Shares({ id }: { id: string }) {
  const [sharing, setSharing] = useState<Sharing | null>(null);
  const load = useCallback(() => ask<Sharing>(`/api/objects/${id}/shares`).then(setSharing, (error) => void toast.error(sentenceOf(error))), [id]);
  useEffect(() => void load(), [load]);
  if (!sharing) return <p className="text-soft">{COMMON.loading}</p>;
  const levelOf = (person: string) => sharing.shares.find((s) => s.person === person)?.level ?? "";
  const set = (person: string, level: string) =>
    ask(`/api/objects/${id}/shares`, { person, level: level || null }, { method: "PUT" }).then(load, (error) => void toast.error(sentenceOf(error)));
  const row = (person: string, name: string, looks: boolean) => (
    <label key={person} className="flex items-center justify-between gap-3 border-b border-hairline py-1">
      <span>{name}</span>
      <select className="field w-28 shrink-0" disabled={!sharing.mayShare} value={levelOf(person)} onChange={(e) => void set(person, e.target.value)}>
        {CHOICES.filter((c) => !looks || c.value !== "edit" || levelOf(person) === "edit").map((c) => (
          <option key={c.value} value={c.value}>
            {c.words}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <>
      <p className="caption pb-1">{WORDS.sharedWith}</p>
      {row("", WORDS.everyone, false)}
      {sharing.people.map((p) => row(p.id, p.name, p.role === "viewer"))}
      <p className="pt-2 text-small text-soft">{WORDS.sharingNote(sharing.owner ? WORDS.ownedBy(sharing.owner) : WORDS.noOwner)}</p>
    </>
  );
}
