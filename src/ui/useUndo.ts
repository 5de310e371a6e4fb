"use client";

import { useEffect, useReducer, useRef } from "react";
import { type History, type HistoryAction, history } from "./undo";

/** Changes of one kind that follow each other this closely are undone together, as words typed in one go are. */
const TOGETHER_MS = 1000;

/** Whether keys belong to a field that is typed in: a box that is ticked leaves them to the page. */
const isTyping = (target: EventTarget | null): target is HTMLElement =>
  target instanceof HTMLElement && target.matches("input:not([type=checkbox], [type=radio], [type=button]), textarea, [contenteditable=true]");

/** Names the field that is being typed in, if one is. */
function typedInto(): string {
  const at = document.activeElement;
  return isTyping(at) ? `typed ${at.id || at.getAttribute("aria-label") || at.getAttribute("name") || at.tagName}` : "";
}

/** A value that can be changed, undone (Ctrl Z) and redone (Ctrl Shift Z, Ctrl Y). In a text field the keys are the field's own. */
export function useUndo<T>(initial: T) {
  const [state, dispatch] = useReducer(history as (s: History<T>, a: HistoryAction<T>) => History<T>, { past: [], present: initial, future: [] });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event.target) || !(event.ctrlKey || event.metaKey)) return;
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
    change: (next: T, said = "") => {
      const now = Date.now();
      // What is typed letter by letter is one change.
      const kind = said || typedInto();
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
