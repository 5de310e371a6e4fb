/*
 * Regular expressions, as far as engines agree on them (POSIX extended regular expressions, IEEE 1003.1, and the
 * classes \d \w \s of common practice): characters, . [ ] ^ $ | ( ) and the repeats * + ? {m,n}. A written one is read
 * and written anew, each part so that it means the same everywhere.
 */

const CLASSES: Record<string, string> = { d: "0-9", w: "A-Za-z0-9_", s: " \\t\\n\\r\\f\\v" };

/** The most repeats that every engine counts. */
const MOST_REPEATS = 255;

const SPECIAL = /[\\^$.*+?()[\]{}|]/;
const plainly = (character: string): string => (SPECIAL.test(character) ? `\\${character}` : character);
const inClass = (character: string): string => (/[\\\]^[-]/.test(character) ? `\\${character}` : character);

class Reader {
  private at = 0;
  private readonly characters: string[];
  constructor(source: string) {
    this.characters = [...source];
  }

  private get next(): string | undefined {
    return this.characters[this.at];
  }

  private take(): string {
    return this.characters[this.at++] ?? "";
  }

  /** Alternatives, up to a closing bracket or the end; null where they cannot be read. */
  alternatives(inner: boolean): string | null {
    const branches: string[] = [];
    for (;;) {
      const branch = this.branch();
      if (!branch) return null;
      branches.push(branch);
      if (this.next === "|") this.take();
      else break;
    }
    return inner === (this.next === ")") && (inner || this.next === undefined) ? branches.join("|") : null;
  }

  /** What stands one after the other: at least one part. */
  private branch(): string | null {
    let parts = "";
    while (this.next !== undefined && this.next !== "|" && this.next !== ")") {
      const part = this.part();
      if (part === null) return null;
      parts += part;
    }
    return parts === "" ? null : parts;
  }

  private part(): string | null {
    const character = this.take();
    if (character === "^" || character === "$") return character;
    const atom = this.atom(character);
    if (atom === null) return null;
    const repeat = this.repeat();
    return repeat === null ? null : atom + repeat;
  }

  private atom(character: string): string | null {
    if (character === ".") return "[^\\n]";
    if (character === "[") return this.set();
    if (character === "(") {
      const inner = this.alternatives(true);
      this.take();
      return inner === null ? null : `(${inner})`;
    }
    if (character === "\\") {
      const escaped = this.take();
      if (CLASSES[escaped]) return `[${CLASSES[escaped]}]`;
      return escaped !== "" && !/[A-Za-z0-9]/.test(escaped) ? plainly(escaped) : null;
    }
    return /[*+?{}\]]/.test(character) ? null : plainly(character);
  }

  /** One of some characters, or none of them. */
  private set(): string | null {
    const not = this.next === "^" ? this.take() : "";
    let inside = "";
    while (this.next !== undefined && this.next !== "]") {
      const character = this.take();
      if (character === "\\") {
        const escaped = this.take();
        if (CLASSES[escaped]) inside += CLASSES[escaped];
        else if (escaped === "" || /[A-Za-z0-9]/.test(escaped)) return null;
        else inside += inClass(escaped);
      } else if (this.next === "-" && this.characters[this.at + 1] !== "]" && this.characters[this.at + 1] !== undefined) {
        this.take();
        const to = this.take();
        if (to === "\\" || to === "[" || character > to) return null;
        inside += `${inClass(character)}-${inClass(to)}`;
      } else inside += inClass(character);
    }
    return this.take() === "]" && inside !== "" ? `[${not}${inside}]` : null;
  }

  private repeat(): string | null {
    let repeat = "";
    if (/^[*+?]$/.test(this.next ?? "")) repeat = this.take();
    else if (this.next === "{") {
      const [whole] = /^\{(\d{1,3})(,(\d{0,3}))?\}/.exec(this.characters.slice(this.at).join("")) ?? [];
      const [least = 0, most = MOST_REPEATS] = (whole?.match(/\d+/g) ?? []).map(Number);
      if (!whole || least > MOST_REPEATS || most > MOST_REPEATS || (whole.includes(",") && least > most)) return null;
      this.at += whole.length;
      repeat = whole;
    }
    // One repeat of another means something else to each engine.
    return /^[*+?{]$/.test(this.next ?? "") && repeat !== "" ? null : repeat;
  }
}

/**
 * A regular expression as it means the same everywhere; null where it is none, or uses what engines do not agree on.
 * @example readRegexp("^BW-\\d+") // "^BW-[0-9]+"
 */
export const readRegexp = (source: string): string | null => (source === "" ? null : new Reader(source).alternatives(false));

/** The test of a regular expression that was read: whether it is found anywhere in a text. */
export function regexpTest(read: string): (text: string) => boolean {
  const test = new RegExp(read, "u");
  return (text) => test.test(text);
}
