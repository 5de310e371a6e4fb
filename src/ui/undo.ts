/** A value with what it was before and what was undone. */
export type History<T> = { past: T[]; present: T; future: T[] };

export type HistoryAction<T> =
  | { do: "change"; next: T /** Part of the change before it, which it is undone with. */; together?: boolean }
  | { do: "undo" }
  | { do: "redo" }
  | { do: "reset"; to: T };

const LONGEST = 200;

/** Changes, undoes and redoes; a change that changes nothing leaves no trace. */
export function history<T>(state: History<T>, action: HistoryAction<T>): History<T> {
  const { past, present, future } = state;
  switch (action.do) {
    case "change":
      if (action.together && past.length > 0) return { past, present: action.next, future: [] };
      return action.next === present ? state : { past: [...past.slice(-LONGEST), present], present: action.next, future: [] };
    case "undo": {
      const before = past.at(-1);
      return before === undefined ? state : { past: past.slice(0, -1), present: before, future: [present, ...future] };
    }
    case "redo": {
      const [after] = future;
      return after === undefined ? state : { past: [...past, present], present: after, future: future.slice(1) };
    }
    case "reset":
      return { past: [], present: action.to, future: [] };
    default:
      return action satisfies never;
  }
}
