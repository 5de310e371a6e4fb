import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import { withArchive } from "@/core/posting/edit";
import { rowsWritten, tallies, wouldDouble } from "@/core/posting/outcome";
import type { PostingSpec, PostingStep } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import type { Entry } from "@/server/jobs/posting/journal";
import type { Preview } from "@/server/services/posting/service";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { useAnswer } from "../useAnswer";
import { useSavedObject } from "../useSavedObject";
import { makeArchive } from "./makeArchive";
import { WORDS } from "./words";

export type SavedPosting = { id: string; name: string; spec: PostingSpec; revision: number };

/** A posting while it is put together: its description, the step that is looked at, what its sources have, what it would come to, and posting it. */
export function usePosting(saved: SavedPosting, schema: Schema) {
  const router = useRouter();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("posting", "/postings", saved, spec, change);
  const [posted, setPosted] = useState<{ entry: Entry; spec: PostingSpec } | null>(null);
  /** The entry that this very description was posted as, while it is looked at. */
  const standing = posted?.spec === spec ? posted.entry : null;
  const [posting, setPosting] = useState(false);
  const steps = stepsOf(spec);
  const [chosen, setChosen] = useState(0);
  const at = Math.min(chosen, steps.length - 1);
  const step = steps[at] as PostingStep;
  const sources = useAnswer<{ table: Table; name: string; origin: string | null }[]>(
    "/api/postings/source",
    { steps: steps.map(({ source, action }) => ({ source, action })) },
    { settleMs: 0 },
  );
  const source = sources.answer?.[at] ?? null;
  const preview = useAnswer<Preview, { spec: PostingSpec }>("/api/postings/preview", { spec });
  const shown = preview.answer;
  /** Whether what is shown answers the control totals as they are now. */
  const current = JSON.stringify(preview.asked?.spec.controls) === JSON.stringify(spec.controls);
  const made = shown ? tallies(shown.tally) : [];
  const _table = findTable(schema, step.target);
  const rows = made.reduce((sum, tally) => sum + rowsWritten(tally), 0);
  const twice = shown ? wouldDouble(shown.tally) : null;
  const controlled = shown?.checks.some((c) => !c.agrees) ?? false;

  async function post(): Promise<void> {
    if (!shown) return;
    setPosting(true);
    try {
      const entry = await ask<Entry>("/api/postings/post", { spec, name: object.stored.name, digest: shown.tally.digest, again: twice !== null });
      toast(WORDS.posted(entry.number));
      setPosted({ entry, spec });
      if (object.changed) await object.save();
      router.refresh();
      preview.again();
    } catch (error) {
      toast.error(sentenceOf(error));
      preview.again();
    }
    setPosting(false);
  }

  /** The archive that the rows of a step can be moved into, which is made when it is chosen. */
  function archiveFor(at: number) {
    const from = sources.answer?.[at];
    const origin = findTable(schema, from?.origin ?? "");
    if (!from || !origin) return null;
    const make = () =>
      makeArchive(origin, schema).then(
        (name) => {
          toast(WORDS.archiveMade(name));
          router.refresh();
          change(withArchive(spec, at, { name, origin, source: from.table, schema }));
        },
        (error) => void toast.error(sentenceOf(error)),
      );
    return { label: origin.label, make: () => void make() };
  }

  return {
    spec,
    change,
    object,
    history: { undo, redo, canUndo, canRedo },
    steps,
    step,
    at,
    choose: setChosen,
    sources,
    source,
    preview,
    made,
    rows,
    checks: current ? (shown?.checks ?? []) : [],
    twice,
    controlled,
    standing,
    posting,
    post,
    archiveFor,
  };
}
