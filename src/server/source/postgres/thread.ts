import { pipeline } from "node:stream/promises";
import { workerData } from "node:worker_threads";
import type pg from "pg";
import { from as copyFrom } from "pg-copy-streams";
import { inTurns } from "@/server/common/turns";
import { answering } from "../bridge";
import { connectTo } from "./connect";
import type { Answer, Question, ServerError, Written } from "./protocol";

/*
 * The thread that speaks with a database server for a process that waits for each answer. Built to dist/postgres.mjs.
 */

const { address } = workerData as { address: string };

let client: pg.Client | null = null;
let lost = false;
let cursors = 0;
/** Rows asked for before they are wanted, by cursor. */
const ahead = new Map<number, Promise<Answer>>();

/** What was begun on a lost connection is over: nothing of it may go on outside of its transaction. */
const GONE = Object.assign(new Error("Connection terminated"), { code: "08006" });

async function connected(begins: boolean): Promise<pg.Client> {
  if (client && !lost) return client;
  if (!begins) throw GONE;
  client = await connectTo(address);
  lost = false;
  ahead.clear();
  kept.clear();
  client.on("end", () => {
    lost = true;
  });
  return client;
}

type Result = { rows: Written[][]; fields: { dataTypeID: number; name: string }[]; rowCount: number | null };

const answerOf = ({ rows, fields, rowCount }: Result): Answer => ({
  rows,
  types: fields.map((f) => f.dataTypeID),
  names: fields.map((f) => f.name),
  count: rowCount ?? 0,
});
const NOTHING: Answer = { rows: [], types: [], names: [], count: 0 };

/** Statements that the server keeps how it reads them, by their texts: each has a name on the connection. */
const kept = new Map<string, string>();
const MOST_KEPT = 200;

function nameOf(text: string): string | undefined {
  if (!kept.has(text) && kept.size < MOST_KEPT) kept.set(text, `s${kept.size}`);
  return kept.get(text);
}

const inTurn = inTurns();
const ask = (text: string, values: Written[] = [], name?: string): Promise<Result> => inTurn(() => asked(text, values, { name }));

async function asked(text: string, values: Written[], { name, begins = false }: { name?: string | undefined; begins?: boolean }): Promise<Result> {
  const server = await connected(begins);
  const result: unknown = await (values.length === 0
    ? server.query({ text, rowMode: "array" })
    : server.query({ text, values, rowMode: "array", ...(name ? { name } : {}) }));
  // Several statements in one text answer one each.
  return (Array.isArray(result) ? result.at(-1) : result) as Result;
}

const fetched = (cursor: number, rows: number): Promise<Answer> =>
  ask(`FETCH ${Math.trunc(rows)} FROM c${Math.trunc(cursor)}`).then(answerOf, (error: unknown) => ({ error: errorOf(error) }));

/** Work that is done, or leaves the transaction as it was. */
async function whole(work: () => Promise<Result>): Promise<Result> {
  await ask("SAVEPOINT row");
  try {
    const result = await work();
    await ask("RELEASE row");
    return result;
  } catch (error) {
    await ask("ROLLBACK TO row; RELEASE row").catch(() => {});
    throw error;
  }
}

async function answer(question: Question): Promise<Answer> {
  if ("all" in question) {
    const { text, values, most, kept: keeps, guarded } = question.all;
    const limited = most === null ? text : `SELECT * FROM (\n${text}\n) AS taken LIMIT ${Math.trunc(most) + 1}`;
    const asked = () => ask(limited, values, keeps ? nameOf(limited) : undefined);
    return answerOf(await (guarded ? whole(asked) : asked()));
  }
  if ("open" in question) {
    const cursor = ++cursors;
    await ask(`DECLARE c${cursor} NO SCROLL CURSOR FOR ${question.open.text}`, question.open.values);
    return { ...NOTHING, cursor };
  }
  if ("fetch" in question) {
    const { cursor, rows } = question.fetch;
    const got = await (ahead.get(cursor) ?? fetched(cursor, rows));
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
  if ("copy" in question) {
    await inTurn(async () => {
      const server = await connected(false);
      await pipeline([question.copy.data], server.query(copyFrom(question.copy.text)));
    });
    return NOTHING;
  }
  if ("run" in question) {
    const { text, begins } = question.run;
    return answerOf(await inTurn(() => asked(text, [], { begins: begins ?? false })));
  }
  await client?.end();
  // Nothing more is asked of it: the thread ends.
  end();
  return NOTHING;
}

function errorOf(error: unknown): ServerError {
  const { code, message, detail = "", column = "", constraint = "", errors = [] } = error as Partial<ServerError> & { errors?: Partial<ServerError>[] };
  // A name with several addresses fails with all their faults at once.
  return { code: code || (errors[0]?.code ?? ""), message: message || (errors[0]?.message ?? ""), detail, column, constraint };
}

const end = answering<Question, Answer>((question) => answer(question).catch((error: unknown): Answer => ({ error: errorOf(error) })));
