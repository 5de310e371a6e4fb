import type { PostingSpec, PostingStep } from "./spec";

/** The steps of a posting, in the order they are made. */
export const stepsOf = ({ steps = [], source, action, target, same, alike, present, breaking, pairs }: PostingSpec): PostingStep[] => [
  { source, action, target, same, ...(alike ? { alike } : {}), present, breaking, pairs },
  ...steps.map((s) => ({ ...s, source: s.source ?? source })),
];
