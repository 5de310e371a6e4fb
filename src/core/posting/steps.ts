import type { PostingSpec, PostingStep } from "./spec";

/** The steps of a posting, in the order they are made. */
export const stepsOf = ({ source, action, target, same, present, breaking, pairs, steps = [] }: PostingSpec): PostingStep[] => [
  { source, action, target, same, present, breaking, pairs },
  ...steps.map((s) => ({ ...s, source: s.source ?? source })),
];
