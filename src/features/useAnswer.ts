"use client";

import { useEffect, useState } from "react";
import { AskError, ask, isAbort, sentenceOf } from "./ask";

/**
 * Asks for something anew whenever what it depends on has settled; the last answer stays until the next is there.
 * @param body null while there is nothing to ask
 * @returns the answer with `asked`, the body it answers
 */
export function useAnswer<T, B = unknown>(path: string, body: B | null, settleMs = 300, method: "GET" | "POST" = "POST") {
  const key = JSON.stringify(body);
  const [state, setState] = useState<{ answer: T | null; asked: B | null; failure: AskError | null; running: boolean }>({
    answer: null,
    asked: null,
    failure: null,
    running: true,
  });
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    if (key === "null") return setState((s) => ({ ...s, failure: null, running: false }));
    const abort = new AbortController();
    setState((s) => ({ ...s, running: true }));
    const timer = setTimeout(() => {
      ask<T>(path, method === "GET" ? undefined : JSON.parse(key), { signal: abort.signal }).then(
        (answer) => setState({ answer, asked: JSON.parse(key) as B, failure: null, running: false }),
        (error) => {
          if (isAbort(error)) return;
          const failure = error instanceof AskError ? error : new AskError({ sentence: sentenceOf(error), code: "unforeseen", problems: [] });
          setState({ answer: null, asked: null, failure, running: false });
        },
      );
    }, settleMs);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [path, key, turn, settleMs, method]);
  return { ...state, again: () => setTurn((n) => n + 1) };
}
