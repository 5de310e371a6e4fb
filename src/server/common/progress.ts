/*
 * How far works are whose files are answered whole: who waits for one names it in a header, and asks for it meanwhile.
 */

/** The header that names a work, in letters and digits of the one who waits for it. */
export const WORK_HEADER = "x-work";

/** How many works are told of at once; the oldest are forgotten. */
const MOST_WORKS = 500;

/** Rows or pages that are done, by work. */
export class Progress {
  private readonly works = new Map<string, number>();

  tell(work: string, done: number): void {
    this.works.delete(work);
    this.works.set(work, done);
    if (this.works.size > MOST_WORKS) this.works.delete(this.works.keys().next().value as string);
  }

  /** null where nothing was told yet, or it is over. */
  of(work: string): number | null {
    return this.works.get(work) ?? null;
  }

  over(work: string): void {
    this.works.delete(work);
  }
}

/** What a request's work is told of by: its name, kept apart from those of other people. */
export function workOf(client: string, name: string | null): string | null {
  return name !== null && /^[a-z0-9]{1,40}$/.test(name) ? `${client} ${name}` : null;
}
