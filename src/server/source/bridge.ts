import { MessageChannel, type MessagePort, receiveMessageOnPort, Worker, workerData } from "node:worker_threads";

/*
 * Questions whose answers are waited for where they are asked: what lays out pages asks in its midst. They are answered in
 * their time by a thread of its own.
 *
 *   Bridge.ask ── question ─▶ MessagePort ─▶ answering(…)
 *      Atomics.wait ◀── signal ── answer ──────┘
 */

type Ends = { port: MessagePort; signal: Int32Array };

/** A thread that answers, begun with what it needs to know. It lives as long as the process, and does not keep it alive. */
export class Bridge<Question, Answer> {
  private readonly port: MessagePort;
  private readonly signal = new Int32Array(new SharedArrayBuffer(4));

  /** @param program the path of what it runs, written out where it is asked for: what bundles the server looks for it there */
  constructor(program: string, known: object) {
    const { port1, port2 } = new MessageChannel();
    this.port = port1;
    const ends: Ends = { port: port2, signal: this.signal };
    const worker = new Worker(program, { workerData: { ...known, ...ends }, transferList: [port2] });
    worker.unref();
    port1.unref();
  }

  ask(question: Question): Answer {
    this.port.postMessage(question);
    for (;;) {
      const seen = Atomics.load(this.signal, 0);
      const got = receiveMessageOnPort(this.port) as { message: Answer } | undefined;
      if (got) return got.message;
      Atomics.wait(this.signal, 0, seen);
    }
  }
}

/**
 * Answers the questions of whoever began this thread.
 * @param answer fails with nothing: what went wrong is an answer too
 * @returns ends the thread once what it answers now is sent
 */
export function answering<Question, Answer>(answer: (question: Question) => Promise<Answer>): () => void {
  const { port, signal } = workerData as Ends;
  port.on("message", async (question: Question) => {
    port.postMessage(await answer(question));
    Atomics.add(signal, 0, 1);
    Atomics.notify(signal, 0);
  });
  return () => void setImmediate(() => port.close());
}
