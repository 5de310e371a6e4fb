"use client";

import { useEffect, useReducer, useRef } from "react";
import { type History, type HistoryAction, history } from "./undo";

/** Changes of one kind that follow each other this closely are undone together, as words typed in one go are. */
const TOGETHER_MS = 1000;

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
  const last = useRef({ kind: "", at: 0 });
  return {
    value: state.present,
    /** @param kind what is being changed, where it is changed little by little */
    change: (next: T, kind = "") => {
      const now = Date.now();
      const together = kind !== "" && kind === last.current.kind && now - last.current.at < TOGETHER_MS;
      last.current = { kind, at: now };
      dispatch({ do: "change", next, together });
    },
    undo: () => dispatch({ do: "undo" }),
    redo: () => dispatch({ do: "redo" }),
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
  };
}
