import type { When } from "@/core/letter/spec";
import type { Problem } from "@/core/types/problem";
import { FormulaField } from "../editors/FormulaField";
import { useLetter } from "./context";
import { WORDS } from "./words";

type Props = {
  label: string;
  when: When | null;
  set: (next: When | null) => void;
  problem: Problem | null /** What stands for no condition at all, where there can be none. */;
  none?: string;
};

/** A condition of a letter: a formula that is true, or a table that has rows or none. */
export function WhenEditor({ label, when, set, problem, none }: Props) {
  const { fields, tables } = useLetter();
  return (
    <>
      <label className="grid gap-0.5 text-small">
        {label}
        <select
          className="field"
          aria-label={label}
          value={when === null ? "none" : when.kind === "formula" ? "" : `${when.some ? "some" : "none"} ${when.table}`}
          onChange={(e) => {
            const [how = "", ...table] = e.target.value.split(" ");
            if (table.length > 0) set({ kind: "rows", table: table.join(" "), some: how === "some" });
            else set(how === "none" ? null : { kind: "formula", text: "" });
          }}
        >
          {none !== undefined && <option value="none">{none}</option>}
          <option value="">{WORDS.aFormulaIsTrue}</option>
          {tables.flatMap((t) => [
            <option key={`some ${t.id}`} value={`some ${t.id}`}>
              {WORDS.hasRows(t.title)}
            </option>,
            <option key={`none ${t.id}`} value={`none ${t.id}`}>
              {WORDS.hasNoRows(t.title)}
            </option>,
          ])}
        </select>
      </label>
      {when?.kind === "formula" && (
        <FormulaField
          label={WORDS.condition}
          text={when.text}
          fields={fields}
          problem={problem}
          onChange={(text) => set({ kind: "formula", text })}
          placeholder="balance > 0"
          note={WORDS.columnNamesOfTheQuery}
          focused
        />
      )}
    </>
  );
}
