"use client";

import { useCallback, useEffect, useRef, useState } from "react";
import { useAhead } from "./ahead/AnswersAhead";
import { AskError, ask, isAbort, sentenceOf } from "./ask";

type Settings = {
  /** How long a question other than the first stands before it is asked. */
  settleMs?: number;
  method?: "GET" | "POST";
  /** What a change of which asks anew. */
  turn?: unknown;
};

type State<T, B> = { answer: T | null; asked: B | null; failure: AskError | null; running: boolean; stopped: boolean };

/**
 * Asks for something anew whenever what it depends on has settled; the last answer stays until the next is there. The
 * first one may have come with the page.
 * @param body null while there is nothing to ask
 * @returns the answer with `asked`, the body it answers
 */
export function useAnswer<T, B = unknown>(path: string, body: B | null, { settleMs = 300, method = "POST", turn: outer }: Settings = {}) {
  const key = JSON.stringify(body);
  const ahead = useAhead();
  const [state, setState] = useState((): State<T, B> => {
    const found = ahead<T>({ path, body });
    if (!found) return { answer: null, asked: null, failure: null, running: true, stopped: false };
    return { answer: found.answer, asked: body, failure: null, running: false, stopped: false };
  });
  const [turn, setTurn] = useState(0);
  const abort = useRef<AbortController | null>(null);
  const first = useRef<"answered" | "asked" | null>(state.asked === null ? "asked" : "answered");
  useEffect(() => {
    const wait = first.current === "asked" ? 0 : settleMs;
    const answered = first.current === "answered";
    first.current = null;
    if (answered) return;
    if (key === "null") return setState((s) => ({ ...s, failure: null, running: false }));
    const mine = new AbortController();
    abort.current = mine;
    setState((s) => ({ ...s, running: true, stopped: false }));
    const timer = setTimeout(() => {
      ask<T>(path, method === "GET" ? undefined : JSON.parse(key), { signal: mine.signal }).then(
        (answer) => setState({ answer, asked: JSON.parse(key) as B, failure: null, running: false, stopped: false }),
        (error) => {
          if (isAbort(error)) return;
          const failure = error instanceof AskError ? error : new AskError({ sentence: sentenceOf(error), code: "unforeseen", problems: [] });
          setState({ answer: null, asked: null, failure, running: false, stopped: false });
        },
      );
    }, wait);
    return () => {
      clearTimeout(timer);
      mine.abort();
    };
  }, [path, key, turn, outer, settleMs, method]);
  const again = useCallback(() => setTurn((n) => n + 1), []);
  const stop = useCallback(() => {
    abort.current?.abort();
    setState((s) => ({ ...s, running: false, stopped: true }));
  }, []);
  return { ...state, again, stop };
}
