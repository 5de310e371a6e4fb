const HOUR_MS = 3_600_000;
/** How often it is looked whether tables are to be copied that are read as of an earlier moment. */
const COPY_MS = 15_000;

/** Runs once when the server starts: the engine's processes come up, and the schedules begin to be watched. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs" || process.env.NEXT_PHASE === "phase-production-build") return;
  const [{ workspace }, { scheduler }, { sweepLeftovers }, { removeOld }] = await Promise.all([
    import("@/server/services/workspace/here"),
    import("@/server/services/scheduler/scheduler"),
    import("@/server/services/workspace/sweep"),
    import("@/server/services/outbox/keep"),
  ]);
  const ws = workspace();
  sweepLeftovers(ws);
  const tried = (what: string, work: () => void) => () => {
    try {
      work();
    } catch (error) {
      console.error(`${what} could not be removed:`, error instanceof Error ? error.message : error);
    }
  };
  const removals = [tried("Old files of the outbox", () => removeOld(ws)), tried("Deleted items", () => ws.catalogue.forgetOld())];
  for (const remove of removals) {
    remove();
    setInterval(remove, HOUR_MS).unref();
  }
  const watching = scheduler(ws);
  // Another process can then take the schedules over at once.
  process.once("exit", () => watching.stop());
  ws.schema().catch(() => {});
  // A server that does not answer now is asked again the next time.
  const keepCopied = () => void (ws.copiedAsOf.tables.length > 0 && ws.keepCopiedAsOf().catch(() => {}));
  setInterval(keepCopied, COPY_MS).unref();
}
