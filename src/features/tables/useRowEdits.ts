"use client";

import { useCallback, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { Table } from "@/core/schema/schema";
import type { RowEdit } from "@/server/posting/edit";
import type { Entry } from "@/server/posting/journal";
import { ask, sentenceOf } from "../ask";

/**
 * Changes made in a table's sheet. Each is an entry of the journal; undoing takes the last one back, redoing takes
 * that back in turn.
 */
export function useRowEdits(table: Table, onChanged: () => void) {
  const past = useRef<number[]>([]);
  const future = useRef<number[]>([]);
  const [, redraw] = useState(0);

  const make = useCallback(
    async (change: RowEdit): Promise<string | null> => {
      try {
        const entry = await ask<Entry>("/api/tables/edit", { table: table.name, change });
        past.current.push(entry.number);
        future.current = [];
        redraw((n) => n + 1);
        onChanged();
        return null;
      } catch (error) {
        return sentenceOf(error);
      }
    },
    [table.name, onChanged],
  );

  const step = useCallback(
    async (from: typeof past, to: typeof past) => {
      const number = from.current.pop();
      if (number === undefined) return;
      try {
        const entry = await ask<Entry>("/api/postings/reverse", { number, force: false });
        to.current.push(entry.number);
        onChanged();
      } catch (error) {
        toast.error(sentenceOf(error));
      }
      redraw((n) => n + 1);
    },
    [onChanged],
  );
  const undo = useCallback(() => step(past, future), [step]);
  const redo = useCallback(() => step(future, past), [step]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const field = event.target instanceof HTMLElement && event.target.matches("input, textarea, select, .cm-content");
      if (field || !(event.ctrlKey || event.metaKey)) return;
      const key = event.key.toLowerCase();
      const again = key === "y" || (key === "z" && event.shiftKey);
      if (!again && key !== "z") return;
      event.preventDefault();
      void (again ? redo() : undo());
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [undo, redo]);

  return { make, undo, redo, canUndo: past.current.length > 0, canRedo: future.current.length > 0 };
}
