"use client";

import { createContext, type ReactNode, useContext, useEffect, useMemo } from "react";
import type { Ahead } from "@/server/http/ahead";

/** How long after a page has begun to run the answers that came with it are its first ones. */
const FRESH_MS = 10_000;

export type Found<T> = { answer: T; seconds: number };
type Store = { answers: Map<string, Found<unknown>>; until: number | null };

const keyOf = (path: string, body: string): string => `${path} ${body}`;
const Answers = createContext<Store>({ answers: new Map(), until: null });
/** Answers of pages that were left: a page that is gone back to asks anew. */
const left = new WeakSet<Ahead>();

/** Gives a page the answers that came with it, for what it asks first. */
export function AnswersAhead({ answers, children }: { answers: Ahead; children: ReactNode }) {
  const store = useMemo((): Store => {
    const fresh = left.has(answers) ? [] : answers;
    return { answers: new Map(fresh.map(({ path, body, answer, seconds }) => [keyOf(path, body), { answer, seconds }])), until: null };
  }, [answers]);
  useEffect(() => {
    store.until = Date.now() + FRESH_MS;
    return () => void left.add(answers);
  }, [store, answers]);
  return <Answers value={store}>{children}</Answers>;
}

/** Finds the answer to a question that came with the page, while it is a first one. */
export function useAhead(): <T>(asked: { path: string; body: unknown }) => Found<T> | undefined {
  const store = useContext(Answers);
  return <T,>({ path, body }: { path: string; body: unknown }) => {
    if (store.until !== null && Date.now() > store.until) return undefined;
    return store.answers.get(keyOf(path, JSON.stringify(body))) as Found<T> | undefined;
  };
}
