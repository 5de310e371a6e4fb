import { type ChildProcess, fork } from "node:child_process";
import { rmSync, statSync } from "node:fs";
import { constants, setPriority } from "node:os";
import { join } from "node:path";
import type { TableToCopy } from "@/core/query/onCopy";
import type { FromCopier, ToCopier } from "./process";
import type { CopyState } from "./store";

/** What is known of the copy; `failed` says why there is none, or why a server could not be read for it again. */
export type KeptCopy = { state: CopyState | null; failed: string | null };

/** How long a process that ended is let lie before the next try: twice as long each time, up to a bound. */
const RESTART_MS = 1_000;
const LONGEST_RESTART_MS = 300_000;

/** Keeps the process of the columnar copy going, from the first table on that is worth one. */
export class CopyKeeper {
  private child: ChildProcess | null = null;
  private wanted: ToCopier = { keep: [], due: "", ahead: 0 };
  private written = "";
  /** The database that the process was begun for: a server's address is another where its moments are read in another zone. */
  private begunFor = "";
  private starts = 0;
  private closed = false;
  private allowed = true;
  kept: KeptCopy = { state: null, failed: null };

  /** @param socket where the process answers */
  constructor(
    private readonly script: string,
    private readonly folder: string,
    private readonly database: () => string,
    readonly socket: string,
  ) {}

  /**
   * The tables that are to be copied.
   * @param due of a server, the moment (ISO 8601) since which they must have been read again
   * @param ahead how far the ledger's clock is before the machine's (ms)
   */
  want(keep: TableToCopy[], due = "", ahead = 0): void {
    const database = this.database();
    const written = JSON.stringify([keep, due, database]);
    if (this.closed || written === this.written) return;
    this.written = written;
    this.wanted = { keep, due, ahead };
    if (this.child && this.begunFor !== database) this.end();
    if (this.child) this.send(this.wanted);
    else if (keep.length > 0) this.boot();
  }

  /** Whether there is to be a copy at all. */
  allow(allowed: boolean): void {
    this.allowed = allowed;
    if (!allowed) this.end();
    else if (this.wanted.keep.length > 0) this.boot();
  }

  /** Throws the copy away; it is made again where one is wanted. */
  discard(): void {
    this.end();
    rmSync(this.folder, { recursive: true, force: true });
  }

  /** How much room it takes on the disk. */
  get bytes(): number {
    return ["copy.duckdb", "copy.duckdb.wal"].reduce((sum, name) => sum + (statSync(join(this.folder, name), { throwIfNoEntry: false })?.size ?? 0), 0);
  }

  private end(): void {
    const { child } = this;
    this.child = null;
    this.kept = { state: null, failed: null };
    child?.removeAllListeners("exit");
    child?.kill("SIGKILL");
    rmSync(this.socket, { force: true });
  }

  close(): void {
    this.closed = true;
    this.end();
  }

  private send(message: ToCopier): void {
    this.child?.send(message, () => {});
  }

  private boot(): void {
    if (this.closed || !this.allowed || this.child) return;
    this.begunFor = this.database();
    const child = fork(this.script, [this.folder, this.begunFor, this.socket], { execArgv: ["--expose-gc"], stdio: ["ignore", "ignore", "inherit", "ipc"] });
    this.child = child;
    this.starts++;
    try {
      // What people wait for goes before what is copied for later.
      if (child.pid) setPriority(child.pid, constants.priority.PRIORITY_BELOW_NORMAL);
    } catch {
      // A machine that does not let a process have a lower share gives it the same as the others.
    }
    child.on("message", (message: FromCopier) => this.take(message));
    child.on("error", () => {});
    child.on("exit", () => {
      this.child = null;
      this.kept = { state: null, failed: this.kept.failed ?? "Its process ended." };
      if (!this.closed) setTimeout(() => this.boot(), Math.min(LONGEST_RESTART_MS, RESTART_MS * 2 ** this.starts)).unref();
    });
  }

  private take(message: FromCopier): void {
    if ("ready" in message) {
      this.kept = { ...this.kept, failed: null };
      this.send(this.wanted);
    } else if ("failed" in message) this.kept = { ...this.kept, failed: message.failed };
    else {
      // It works: what ends it some day is tried again soon.
      this.starts = 0;
      this.kept = { state: message.state, failed: null };
    }
  }
}
