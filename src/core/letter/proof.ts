/** What is known of a query's rows and their letters. */
export type LetterCount = {
  letters: number;
  /** Rows that get none, by the letter's own condition. */
  without: number;
  /** Rows of the query, counted by themselves. */
  queryRows: number;
  /** Rows of the letters' table that got one, each counted once; null where the query groups rows. */
  different: number | null;
};

/** Whether every row has a letter or is left out by the condition, and none has two. `twice`: so many letters are second ones of their rows. */
export type LetterVerdict = { kind: "agrees" } | { kind: "twice"; letters: number } | { kind: "differs" };

/** @example letterVerdict({ letters: 30, without: 7, queryRows: 37, different: 30 }) → agrees */
export function letterVerdict({ letters, without, queryRows, different }: LetterCount): LetterVerdict {
  const twice = different === null ? 0 : letters - different;
  if (twice > 0) return { kind: "twice", letters: twice };
  return letters + without === queryRows && twice === 0 ? { kind: "agrees" } : { kind: "differs" };
}
