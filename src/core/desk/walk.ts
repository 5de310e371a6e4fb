/**
 * The steps of the demo's walk: why October's freight differs from the agent's figure. Each is ticked off by doing it:
 * the query is opened, the rows without a shipper are looked at, the agent's figure is added as a control total, the join
 * is changed until it agrees, the statement by island is opened.
 */
export const WALK_STEPS = ["open", "missing", "control", "agree", "print"] as const;
export type WalkStep = (typeof WALK_STEPS)[number];

/** The saved objects of the demo that the walk is about. */
export const WALK_QUERY = "freight-by-shipper";
export const WALK_REPORT = "freight-statement";

/** Where a step is done. */
export const placeOfStep = (step: WalkStep): { kind: "query" | "report"; id: string } =>
  step === "print" ? { kind: "report", id: WALK_REPORT } : { kind: "query", id: WALK_QUERY };

/** How far somebody is: the steps done, in the walk's order; null once they closed it. */
export type WalkState = { done: WalkStep[]; closed: boolean };

/** The state after a step was done; the same one where it was done before or the walk is closed. */
export const stepDone = (state: WalkState, step: WalkStep): WalkState =>
  state.closed || state.done.includes(step) ? state : { ...state, done: WALK_STEPS.filter((s) => s === step || state.done.includes(s)) };

/** The step to do next: the first that is not done; null where all are. */
export const nextStep = ({ done }: WalkState): WalkStep | null => WALK_STEPS.find((s) => !done.includes(s)) ?? null;

/** The step that opening an object ticks off. */
export const stepOfOpening = (object: string): WalkStep | null => (object === WALK_QUERY ? "open" : object === WALK_REPORT ? "print" : null);

/**
 * The steps that the walk's query, as somebody has it on the screen, ticks off.
 * @param missing whether the rows that a join found nothing for are shown
 * @param controls whether each control total agrees; one without a figure yet is left out
 */
export const stepsSeen = ({ missing, controls }: { missing: boolean; controls: boolean[] }): WalkStep[] => [
  ...(missing ? (["missing"] as const) : []),
  ...(controls.length > 0 ? (["control"] as const) : []),
  ...(controls.length > 0 && controls.every(Boolean) ? (["agree"] as const) : []),
];
