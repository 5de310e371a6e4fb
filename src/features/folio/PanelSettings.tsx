import type { Panel } from "@/core/folio/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { Remove } from "../editors/parts";
import { COMMON } from "../words";
import { PanelBrief } from "./PanelBrief";
import { WORDS } from "./words";

type Props = {
  panel: Panel;
  parent: Table;
  schema: Schema;
  /** Whether no panel stands above it. */
  first: boolean;
  onChange: (next: Panel | null) => void;
  onMove: (by: -1 | 1) => void;
};

/** What a panel of a folio is called, how much of it is shown, and which rows it asks for. */
export function PanelSettings({ panel, parent, schema, first, onChange, onMove }: Props) {
  return (
    <div className="mb-2 grid gap-2 border border-rule bg-sheet p-3">
      <div className="flex flex-wrap items-end gap-3">
        <label className="grid gap-0.5 text-small">
          {WORDS.title}
          <input className="field w-56" value={panel.title} onChange={(e) => onChange({ ...panel, title: e.target.value })} />
        </label>
        <label className="grid gap-0.5 text-small">
          {WORDS.rowsShown}
          <input
            className="field w-20"
            type="number"
            min={1}
            max={200}
            value={panel.first}
            onChange={(e) => onChange({ ...panel, first: Math.min(200, Math.max(1, Math.trunc(Number(e.target.value)))) })}
          />
        </label>
        <label className="flex items-center gap-1.5 text-small">
          <input type="checkbox" className="accent-bottle" checked={panel.hideEmpty} onChange={(e) => onChange({ ...panel, hideEmpty: e.target.checked })} />
          {WORDS.hideWhenEmpty}
        </label>
        {panel.match.kind === "same" && (
          <label className="flex items-center gap-1.5 text-small">
            <input
              type="checkbox"
              className="accent-bottle"
              checked={panel.match.itself}
              onChange={(e) => panel.match.kind === "same" && onChange({ ...panel, match: { ...panel.match, itself: e.target.checked } })}
            />
            {WORDS.includeThisRow}
          </label>
        )}
        <button type="button" className="button" disabled={first} onClick={() => onMove(-1)} aria-label={WORDS.movePanelUp}>
          ↑
        </button>
        <button type="button" className="button" onClick={() => onMove(1)} aria-label={WORDS.movePanelDown}>
          ↓
        </button>
        <Remove onClick={() => onChange(null)}>{COMMON.removePanel}</Remove>
      </div>
      <PanelBrief query={panel.query} schema={schema} parent={parent} change={(query) => onChange({ ...panel, query })} />
    </div>
  );
}
