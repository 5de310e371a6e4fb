/** Does works one after the other, as a connection must: each begins when the one before it has ended, however. */
export function inTurns(): <T>(work: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve();
  return (work) => {
    const next = last.then(work);
    last = next.catch(() => {});
    return next;
  };
}
