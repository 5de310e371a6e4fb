import { JOIN_WAYS } from "../query/joinWays";
import type { Plan } from "../query/plan";
import { counted, type Locale } from "../types/format";
import type { Amount, ProofStep } from "./account";
import type { Proof, ProofPick } from "./proof";
import { canOpenUnmatched } from "./unmatched";

/** A line of the account in words: what it counts, and which rows it opens. `warn` where rows in it need a look. */
export type AccountLine = { label: string; amount: Amount; to: ProofPick; look: "main" | "part" | "total"; warn?: boolean; opens?: boolean };

/** What came in. */
export const sourceLine = (plan: Plan, proof: Proof): AccountLine => ({
  label: plan.source.table.label,
  amount: proof.source,
  to: { part: "source" },
  look: "main",
});

/** What is shown. */
export const sheetLine = (proof: Proof, locale: Locale): AccountLine => ({
  label: proof.groups === null ? "in the sheet" : `in ${counted(proof.groups, "group", locale)}`,
  amount: proof.sheet,
  to: { part: "sheet" },
  look: "total",
});

/** What one step did, a line for each part its rows fell into. */
export function stepLines(step: ProofStep, plan: Plan): AccountLine[] {
  switch (step.kind) {
    case "condition":
      return [{ label: step.words ?? `left out by ${step.label}`, amount: step.leftOut, to: { part: "leftOut", id: step.id }, look: "part" }];
    case "groups":
      return [{ label: step.words ?? `groups left out by ${step.label}`, amount: step.leftOut, to: { part: "leftOutGroups", id: step.id }, look: "part" }];
    case "kept":
      return [{ label: "kept", amount: step.amount, to: { part: "kept" }, look: "main" }];
    case "join":
      return joinLines(step, plan);
    default:
      return step satisfies never;
  }
}

function joinLines(step: Extract<ProofStep, { kind: "join" }>, plan: Plan): AccountLine[] {
  const { id, label } = step;
  const look = "part" as const;
  const opens = plan.joins.some((join) => join.id === id && canOpenUnmatched(join));
  const missing = JOIN_WAYS[step.way].keepsNear ? "" : ", left out";
  return [
    { label: `${label} found`, amount: step.found, to: { part: "found", id }, look },
    { label: `${label} missing${missing}`, amount: step.missing, to: { part: "missing", id }, look, warn: true },
    ...(step.added ? [{ label: `${label} without a match, added`, amount: step.added, to: { part: "added", id } as const, look, warn: true }] : []),
    ...(step.unmatched > 0
      ? [{ label: `${label} without a match`, amount: { rows: step.unmatched, figure: null }, to: { part: "unmatched", id } as const, look, opens }]
      : []),
    ...(step.leadsTo === "many" ? [{ label: `repeated by ${label}`, amount: step.repeated, to: { part: "repeated", id } as const, look, warn: true }] : []),
  ];
}

/** The whole account, from what came in to what is shown. */
export const accountLines = (plan: Plan, proof: Proof, locale: Locale): AccountLine[] => [
  sourceLine(plan, proof),
  ...proof.steps.flatMap((step) => stepLines(step, plan)),
  sheetLine(proof, locale),
];
