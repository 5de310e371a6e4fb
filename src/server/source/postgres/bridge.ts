import { join } from "node:path";
import { MessageChannel, type MessagePort, receiveMessageOnPort, Worker } from "node:worker_threads";
import type { Answer, Question, ServerError } from "./protocol";

/** What a server answered a statement with that it did not do. */
export class ServerRefusal extends Error {
  constructor(readonly said: ServerError) {
    super(said.message);
  }

  get code(): string {
    return this.said.code;
  }
}

/**
 * A connection to a database server whose answers are waited for where they are asked for: what lays out pages asks in its
 * midst. The driver speaks with the server in a thread of its own. Where this process is killed, the connection goes with it,
 * and the server ends what it was asked (connect.ts).
 */
export class Bridge {
  private readonly port: MessagePort;
  private readonly signal = new Int32Array(new SharedArrayBuffer(4));

  constructor(readonly address: string) {
    const { port1, port2 } = new MessageChannel();
    this.port = port1;
    const worker = new Worker(join(process.cwd(), "dist/postgres.mjs"), {
      workerData: { port: port2, signal: this.signal, address },
      transferList: [port2],
    });
    // It lives as long as the process, and does not keep it alive.
    worker.unref();
    port1.unref();
  }

  /** @throws ServerRefusal */
  ask(question: Question): Exclude<Answer, { error: object }> {
    this.port.postMessage(question);
    for (;;) {
      const seen = Atomics.load(this.signal, 0);
      const got = receiveMessageOnPort(this.port) as { message: Answer } | undefined;
      if (!got) {
        Atomics.wait(this.signal, 0, seen);
        continue;
      }
      if ("error" in got.message) throw new ServerRefusal(got.message.error);
      return got.message;
    }
  }
}
