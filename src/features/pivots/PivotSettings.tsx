import { figureChip } from "@/core/brief/pivotBrief";
import type { PivotSpec } from "@/core/pivot/spec";
import type { PlanParameter } from "@/core/query/plan";
import type { Table } from "@/core/schema/schema";
import { BoundParameters } from "../editors/BoundParameters";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = {
  spec: PivotSpec;
  table: Table | null;
  parameters: PlanParameter[];
  /** Changes how it is shown, which asks for nothing anew. */
  show: (spec: PivotSpec) => void;
  /** Changes what is asked for. */
  alter: (spec: PivotSpec) => void;
};

/** What a pivot shows besides its figures: its totals, its shades, its folded groups, and the parameters of its query. */
export function PivotSettings({ spec, table, parameters, show, alter }: Props) {
  const total = (side: "down" | "across", words: string) => (
    <label className="flex gap-2">
      <input
        type="checkbox"
        className="accent-bottle"
        checked={spec.totals[side]}
        onChange={(e) => show({ ...spec, totals: { ...spec.totals, [side]: e.target.checked } })}
      />
      {words}
    </label>
  );
  return (
    <div className="grid gap-3">
      {total("down", WORDS.rowOfGrandTotals)}
      {total("across", WORDS.columnOfGrandTotals)}
      <label className="grid gap-0.5">
        <span>{WORDS.shadeCellsBy}</span>
        <select className="field" value={spec.heat ?? ""} onChange={(e) => show({ ...spec, heat: e.target.value || null })}>
          <option value="">{COMMON.nothing}</option>
          {table &&
            spec.figures
              .map((figure) => figureChip(figure, table))
              .map((f) => (
                <option key={f.id} value={f.id}>
                  {f.words}, {f.more}
                </option>
              ))}
        </select>
      </label>
      {spec.shut.length > 0 && (
        <button type="button" className="link justify-self-start" onClick={() => show({ ...spec, shut: [] })}>
          {WORDS.expandAllGroups}
        </button>
      )}
      <BoundParameters parameters={parameters} bound={spec.parameters} change={(bound) => alter({ ...spec, parameters: bound })} />
    </div>
  );
}
