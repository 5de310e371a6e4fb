import { useRef, useState } from "react";
import { CellInput } from "./CellInput";
import type { GridPlace } from "./gridWalk";
import type { SheetColumn, SheetEdit } from "./sheetParts";

type Typing = GridPlace & { text: string; problem: string | null };

/** The cell of a sheet that is typed over, and the field that stands in its place. */
export function useTyping(edit: SheetEdit | undefined, columns: SheetColumn[], move: (place: GridPlace, extend: boolean) => void, focus: () => void) {
  const [typing, setTyping] = useState<Typing | null>(null);
  const saving = useRef(false);

  function begin({ row, column }: GridPlace, first?: string): void {
    const stored = edit?.text(row, column) ?? null;
    saving.current = false;
    if (stored !== null) setTyping({ row, column, text: first ?? stored, problem: null });
  }
  function leave(): void {
    setTyping(null);
    focus();
  }
  async function end(then: "down" | "right" | "stay", picked?: string): Promise<void> {
    // Saved by Enter, the field goes, and loses its focus on the way: what is typed is saved once.
    if (!typing || !edit || saving.current) return;
    saving.current = true;
    const { row, column } = typing;
    const text = picked ?? typing.text;
    const problem = text === edit.text(row, column) ? null : await edit.save(row, column, text);
    if (problem) {
      saving.current = false;
      return setTyping({ ...typing, text, problem });
    }
    leave();
    if (then !== "stay") move({ row: row + (then === "down" ? 1 : 0), column: column + (then === "right" ? 1 : 0) }, false);
  }

  const input = typing && (
    <CellInput
      label={columns[typing.column]?.heading ?? ""}
      text={typing.text}
      problem={typing.problem}
      suggest={(text) => edit?.suggest?.(typing.row, typing.column, text) ?? null}
      beside={edit?.beside?.(typing.column, typing.text, (text) => void end("down", text))}
      onChange={(text) => setTyping({ ...typing, text, problem: null })}
      onPick={(text) => void end("down", text)}
      onEnd={(then) => void end(then)}
      onCancel={leave}
    />
  );
  return { typing, begin, input };
}
