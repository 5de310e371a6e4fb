import { type MessagePort, workerData } from "node:worker_threads";
import type pg from "pg";
import { connectTo } from "./connect";
import type { Answer, Question, ServerError, Written } from "./protocol";

/*
 * The thread that speaks with a database server for a process that waits for each answer. Built to dist/postgres.mjs.
 */

const { port, signal, address } = workerData as { port: MessagePort; signal: Int32Array; address: string };

let client: pg.Client | null = null;
let lost = false;
let cursors = 0;
/** Rows asked for before they are wanted, by cursor. */
const ahead = new Map<number, Promise<Answer>>();

async function connected(): Promise<pg.Client> {
  if (client && !lost) return client;
  client = await connectTo(address);
  lost = false;
  ahead.clear();
  client.on("end", () => {
    lost = true;
  });
  return client;
}

type Result = { rows: Written[][]; fields: { dataTypeID: number }[] };

const answerOf = ({ rows, fields }: Result): Answer => ({ rows, types: fields.map((f) => f.dataTypeID) });

async function ask(text: string, values: Written[] = []): Promise<Result> {
  const server = await connected();
  const result: unknown = await (values.length === 0 ? server.query({ text, rowMode: "array" }) : server.query({ text, values, rowMode: "array" }));
  // Several statements in one text answer one each.
  return (Array.isArray(result) ? result.at(-1) : result) as Result;
}

const fetched = (cursor: number, rows: number): Promise<Answer> =>
  ask(`FETCH ${Math.trunc(rows)} FROM c${Math.trunc(cursor)}`).then(answerOf, (error: unknown) => ({ error: errorOf(error) }));

async function answer(question: Question): Promise<Answer> {
  if ("all" in question) {
    const { text, values, most } = question.all;
    return answerOf(await ask(most === null ? text : `SELECT * FROM (\n${text}\n) AS taken LIMIT ${Math.trunc(most) + 1}`, values));
  }
  if ("open" in question) {
    const cursor = ++cursors;
    await ask(`DECLARE c${cursor} NO SCROLL CURSOR FOR ${question.open.text}`, question.open.values);
    return { rows: [], types: [], cursor };
  }
  if ("fetch" in question) {
    const { cursor, rows } = question.fetch;
    const known = ahead.get(cursor);
    ahead.delete(cursor);
    const got = await (known ?? fetched(cursor, rows));
    // Where there are more, they come while these are worked on.
    if ("rows" in got && got.rows.length === rows) ahead.set(cursor, fetched(cursor, rows));
    return got;
  }
  if ("close" in question) {
    const { cursor } = question.close;
    await ahead.get(cursor);
    ahead.delete(cursor);
    return answerOf(await ask(`CLOSE c${Math.trunc(cursor)}`));
  }
  if ("run" in question) return answerOf(await ask(question.run.text));
  await client?.end();
  return { rows: [], types: [] };
}

function errorOf(error: unknown): ServerError {
  const {
    code = "",
    message = "",
    detail = "",
    errors = [],
  } = error as { code?: string; message?: string; detail?: string; errors?: { code?: string; message?: string }[] };
  // A name with several addresses fails with all their faults at once.
  return { code: code || (errors[0]?.code ?? ""), message: message || (errors[0]?.message ?? ""), detail: detail ?? "" };
}

port.on("message", async (question: Question) => {
  const said = await answer(question).catch((error: unknown): Answer => ({ error: errorOf(error) }));
  port.postMessage(said);
  Atomics.add(signal, 0, 1);
  Atomics.notify(signal, 0);
});
