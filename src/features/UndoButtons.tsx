import type { ReactNode } from "react";
import { COMMON } from "./words";

type Props = { undo: () => void; redo: () => void; canUndo: boolean; canRedo: boolean };

/** Undo and redo, as on every page where something is built. */
export const UndoButtons = ({ undo, redo, canUndo, canRedo }: Props): ReactNode => (
  <>
    <button type="button" className="button" aria-label={COMMON.undo} disabled={!canUndo} onClick={undo}>
      ↶
    </button>
    <button type="button" className="button" aria-label={COMMON.redo} disabled={!canRedo} onClick={redo}>
      ↷
    </button>
  </>
);
