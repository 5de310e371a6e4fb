/** `id` is null until it is saved for the first time, where a page allows that. */
export type SavedObject<S, Id extends string | null = string> = { id: Id; name: string; spec: S; revision: number };

/** Sends a change to the server: a new object where `id` is null. @returns where it is kept, and its revision */
type Send<S, Id> = (id: Id, body: { name?: string; spec?: S; revision?: number }, anyway: boolean) => Promise<{ id: Id; revision: number }>;

/**
 * A saved object as the server keeps it, and its changes on the way there: one after another, each upon the revision that
 * the one before it left, so that a name and a description sent in quick succession do not meet.
 */
export class KeptObject<S, Id extends string | null = string> {
  private turn: Promise<unknown> = Promise.resolve();
  /** The name on the server, where the one shown is still on its way. */
  private arrived: string;
  /** @param onChange told whenever what is kept is another, a name as soon as it is given */
  constructor(
    private kept: SavedObject<S, Id>,
    private readonly send: Send<S, Id>,
    private readonly onChange: (kept: SavedObject<S, Id>) => void,
  ) {
    this.arrived = kept.name;
  }

  /** Keeps a description. @param anyway also where others would stop working by it @throws what sending throws; what was kept stands */
  save(spec: S, anyway = false): Promise<void> {
    return this.inTurn(async () => {
      const { id, name, revision } = this.kept;
      this.take({ ...(await this.send(id, id === null ? { name, spec } : { spec, revision }, anyway)), spec });
      if (id === null) this.arrived = name;
    });
  }

  /** Gives it another name, which it has at once; an object not saved yet goes to the server with it. @throws what sending throws; the name is again the one that is kept */
  rename(name: string): Promise<void> {
    this.take({ name });
    return this.inTurn(async () => {
      const { id, revision } = this.kept;
      if (id === null) return;
      try {
        this.take({ revision: (await this.send(id, { name, revision }, false)).revision });
        this.arrived = name;
      } catch (error) {
        if (this.kept.name === name) this.take({ name: this.arrived });
        throw error;
      }
    });
  }

  private take(change: Partial<SavedObject<S, Id>>): void {
    this.kept = { ...this.kept, ...change };
    this.onChange(this.kept);
  }

  private inTurn(work: () => Promise<void>): Promise<void> {
    const done = this.turn.then(work);
    this.turn = done.catch(() => undefined);
    return done;
  }
}

/**
 * What was left unsaved of an object, as it was kept in the browser's tab.
 * @returns null where nothing differs from what is saved, or where it was kept by another version of the program
 */
export function unsavedSpec<S>(kept: string | null, saved: S): S | null {
  if (kept === null || kept === JSON.stringify(saved)) return null;
  const versionOf = (spec: unknown) => (spec as { version?: unknown } | null)?.version;
  try {
    const spec = JSON.parse(kept) as S;
    return versionOf(spec) === versionOf(saved) ? spec : null;
  } catch {
    return null;
  }
}
