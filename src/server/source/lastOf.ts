import type { Reading } from "./reading";

/** Keeps what was last worked out of a database, as long as neither its data nor what was asked for are others. */
export class LastOf<T> {
  private last: { key: string; value: T } | null = null;

  /** @param asked all that the value depends on beside the data */
  of(reading: Reading, asked: unknown, make: () => T): T {
    const version = reading.version();
    const key = JSON.stringify([asked, version]);
    if (version === null || this.last?.key !== key) this.last = { key, value: make() };
    return this.last.value;
  }
}
