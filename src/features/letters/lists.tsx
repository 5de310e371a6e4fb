import { useState } from "react";
import { withoutWords } from "@/core/brief/letterBrief";
import { writtenName } from "@/core/expression/parse";
import type { LetterSpec, When } from "@/core/letter/spec";
import { counted, writeCount } from "@/core/types/format";
import type { LetterProof } from "@/server/services/letters/service";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** The letters by name, the one that is looked at among them. */
export function LettersList({ proof, spec, at, go }: { proof: LetterProof | null; spec: LetterSpec; at: number; go: (at: number) => void }) {
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
      {proof && spec.only && proof.without.count > 0 && (
        <Without without={proof.without} only={spec.only} titleOf={(id) => spec.tables.find((t) => t.id === id)?.title ?? ""} isWanted={isWanted} />
      )}
    </>
  );
}

type WithoutProps = { without: LetterProof["without"]; only: When; titleOf: (id: string) => string; isWanted: (name: string) => boolean };

/** The rows that get no letter, under the reason why. */
function Without({ without, only, titleOf, isWanted }: WithoutProps) {
  const locale = useLocale();
  return (
    <section className="pt-4" data-testid="without">
      <h2 className="caption px-4 pb-1">{WORDS.noLetter(counted(without.count, "row", locale))}</h2>
      {(["unmet", "empty"] as const).map((why) => {
        const rows = without.first.filter((row) => row.why === why && isWanted(row.name));
        if (rows.length === 0) return null;
        return (
          <div key={why} className="pb-2">
            <p className="px-4 py-1 text-small text-soft">{withoutWords(only, why === "empty", titleOf)}</p>
            {rows.map(({ name }, i) => (
              <p key={`${i} ${name}`} className="truncate px-4 py-[3px]">
                {name}
              </p>
            ))}
          </div>
        );
      })}
      {without.count > without.first.length && (
        <p className="px-4 py-2 text-small text-soft">{WORDS.andMore(writeCount(without.count - without.first.length, locale))}</p>
      )}
    </section>
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
