"use client";

import { useCallback, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { Table } from "@/core/schema/schema";
import type { RowEdit } from "@/server/jobs/posting/edit";
import type { Entry } from "@/server/jobs/posting/journal";
import { AskError, ask, sentenceOf } from "../ask";

/**
 * Changes made in a table's sheet. Each is an entry of the journal; undoing takes the last one back, redoing takes
 * that back in turn.
 */
export function useRowEdits(table: Table, onChanged: () => void) {
  const past = useRef<number[]>([]);
  const future = useRef<number[]>([]);
  const [, redraw] = useState(0);

  /** What somebody else wrote into a cell meanwhile, as it was told: saved once more, it is overwritten knowingly. */
  const theirs = useRef(new Map<string, string>());

  const make = useCallback(
    async (change: RowEdit): Promise<string | null> => {
      const cell = change.kind === "change" ? JSON.stringify([change.key, change.column]) : "";
      const known = theirs.current.get(cell);
      theirs.current.delete(cell);
      const sent = change.kind === "change" && known !== undefined ? { ...change, was: known === "" ? null : known } : change;
      try {
        const entry = await ask<Entry>("/api/tables/edit", { table: table.name, change: sent });
        past.current.push(entry.number);
        future.current = [];
        redraw((n) => n + 1);
        onChanged();
        return null;
      } catch (error) {
        if (error instanceof AskError && error.body.code === "editClash") {
          theirs.current.set(cell, error.body.detail ?? "");
          onChanged();
        }
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
