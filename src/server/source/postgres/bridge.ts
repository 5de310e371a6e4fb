import { join } from "node:path";
import { Bridge } from "../bridge";
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
 * A connection to a database server whose answers are waited for. The driver speaks with the server in a thread of its own.
 * Where this process is killed, the connection goes with it, and the server ends what it was asked (connect.ts).
 */
export class ServerBridge {
  private readonly bridge: Bridge<Question, Answer>;

  constructor(readonly address: string) {
    this.bridge = new Bridge(join(process.cwd(), "dist/postgres.mjs"), { address });
  }

  /** @throws ServerRefusal */
  ask(question: Question): Exclude<Answer, { error: object }> {
    const answer = this.bridge.ask(question);
    if ("error" in answer) throw new ServerRefusal(answer.error);
    return answer;
  }
}
