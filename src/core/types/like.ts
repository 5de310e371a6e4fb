/*
 * Patterns of SQL's LIKE (ISO/IEC 9075-2, like predicate): % stands for any characters, _ for one, and an escape
 * character before one of them for itself. Everywhere but in a formula's own ESCAPE it is the backslash.
 */

type Token = { kind: "any" } | { kind: "one" } | { kind: "character"; is: string };

const ESCAPE = "\\";

/** A pattern's characters, each with what it stands for; null where it ends in its escape. */
function tokensOf(pattern: string, by: string | null): Token[] | null {
  const tokens: Token[] = [];
  let escaped = false;
  for (const character of pattern) {
    if (!escaped && character === by) escaped = true;
    else {
      tokens.push(escaped || (character !== "%" && character !== "_") ? { kind: "character", is: character } : { kind: character === "%" ? "any" : "one" });
      escaped = false;
    }
  }
  return escaped ? null : tokens;
}

const WRITTEN = { any: "[^]*", one: "[^]" } as const;

/** The test a pattern stands for. @example likeTest("5_\\%")("50%") // true */
export function likeTest(pattern: string): (text: string) => boolean {
  const parts = (tokensOf(pattern, ESCAPE) ?? []).map((t) => (t.kind === "character" ? t.is.replace(/[\\^$.*+?()[\]{}|/]/, "\\$&") : WRITTEN[t.kind]));
  const test = new RegExp(`^${parts.join("")}$`, "u");
  return (text) => test.test(text);
}

/** Whether a pattern is whole: one that ends in its escape has nothing to escape. */
export const isPattern = (pattern: string, by: string | null = ESCAPE): boolean => tokensOf(pattern, by) !== null;

/** A pattern with an escape of its own, or with none, as one whose escape is the backslash. @example withBackslash("50!%", "!") // "50\\%" */
export const withBackslash = (pattern: string, by: string | null): string =>
  (tokensOf(pattern, by) ?? [])
    .map((t) => {
      if (t.kind !== "character") return t.kind === "any" ? "%" : "_";
      return /[%_\\]/.test(t.is) ? `${ESCAPE}${t.is}` : t.is;
    })
    .join("");
