import type { PhraseTarget } from "@/core/brief/brief";

/** A stable name for what a phrase edits. */
export const phraseKey = (target: PhraseTarget): string => Object.values(target).join(" ");
