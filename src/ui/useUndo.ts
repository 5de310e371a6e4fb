"use client";

import { useEffect, useReducer } from "react";
import { type History, type HistoryAction, history } from "./undo";

/** A value that can be changed, undone (Ctrl Z) and redone (Ctrl Shift Z, Ctrl Y). In a text field the keys are the field's own. */
export function useUndo<T>(initial: T) {
  const [state, dispatch] = useReducer(history as (s: History<T>, a: HistoryAction<T>) => History<T>, { past: [], present: initial, future: [] });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const field = event.target instanceof HTMLElement && event.target.matches("input, textarea, select");
      if (field || !(event.ctrlKey || event.metaKey)) return;
      const key = event.key.toLowerCase();
      const redo = key === "y" || (key === "z" && event.shiftKey);
      if (!redo && key !== "z") return;
      event.preventDefault();
      dispatch({ do: redo ? "redo" : "undo" });
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return {
    value: state.present,
    change: (next: T) => dispatch({ do: "change", next }),
    undo: () => dispatch({ do: "undo" }),
    redo: () => dispatch({ do: "redo" }),
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
  };
}
