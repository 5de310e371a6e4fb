import { useState } from "react";
import { writtenName } from "@/core/expression/parse";
import { writeCount } from "@/core/types/format";
import type { LetterProof } from "@/server/letters/service";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** The letters by name, the one that is looked at among them. */
export function LettersList({ proof, at, go }: { proof: LetterProof | null; at: number; go: (at: number) => void }) {
  const locale = useLocale();
  const [wanted, setWanted] = useState("");
  const isWanted = (name: string) => name.toLowerCase().includes(wanted.trim().toLowerCase());
  return (
    <>
      <h2 className="caption px-4 pb-2">{COMMON.letters}</h2>
      <div className="px-4 pb-2">
        <input className="field" aria-label={WORDS.findLetter} placeholder={WORDS.findLetter} value={wanted} onChange={(e) => setWanted(e.target.value)} />
      </div>
      {proof?.names.map(
        (name, i) =>
          isWanted(name) && (
            <button
              key={`${i} ${name}`}
              type="button"
              aria-current={i === at ? "location" : undefined}
              onClick={() => go(i)}
              className="block w-full truncate px-4 py-[3px] text-left hover:bg-bottle-tint aria-[current]:bg-bottle-tint aria-[current]:font-semibold"
            >
              {name}
            </button>
          ),
      )}
      {proof && proof.letters > proof.names.length && (
        <p className="px-4 py-2 text-small text-soft">{WORDS.andMore(writeCount(proof.letters - proof.names.length, locale))}</p>
      )}
    </>
  );
}

/** The fields that can stand in a letter, each put where one writes. */
export function FieldsList({ name, fields, insert }: { name: string; fields: { formulaName: string; derived: boolean }[]; insert: (formula: string) => void }) {
  return (
    <>
      <h2 className="caption px-4 pb-1">{COMMON.fieldsOf(name)}</h2>
      <p className="px-4 pb-2 text-small text-soft">{WORDS.chooseOneToInsertIt}</p>
      {fields.map((f) => (
        <button
          key={f.formulaName}
          type="button"
          className={`block w-full px-4 py-[3px] text-left hover:bg-bottle-tint ${f.derived ? "text-plum" : ""}`}
          onClick={() => insert(writtenName(f.formulaName))}
        >
          {f.formulaName}
        </button>
      ))}
    </>
  );
}
