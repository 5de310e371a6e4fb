import { Refusal } from "@/server/common/refusal";

/** What the pages send is a few thousand characters; files go by routes of their own. */
const MOST_BYTES = 8_000_000;
const MOST_DEEP = 60;

const tooLarge = () => new Refusal(413, "The request is larger than 8 MB. Import large data as a file, under Tables.");

/** A request's body as text, read no further than there is room for. @throws Refusal 413 */
async function textOf(request: Request): Promise<string> {
  if (Number(request.headers.get("content-length") ?? 0) > MOST_BYTES) throw tooLarge();
  const decoder = new TextDecoder();
  let text = "";
  let bytes = 0;
  // biome-ignore lint/suspicious/noExplicitAny: a web stream can be read by for await here, which its type does not say
  for await (const part of (request.body ?? []) as any as AsyncIterable<Uint8Array>) {
    bytes += part.byteLength;
    if (bytes > MOST_BYTES) throw tooLarge();
    text += decoder.decode(part, { stream: true });
  }
  return text + decoder.decode();
}

/** How deep lists and objects stand in one another, as far as it matters. */
function isDeeper(value: unknown, most: number): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > most) return true;
    level = level.flatMap((v) => (typeof v === "object" && v !== null ? Object.values(v) : []));
  }
  return false;
}

/** What was sent, as JSON; null where it is none. @throws Refusal where it is larger or deeper than anything here is */
export async function jsonBody(request: Request): Promise<unknown> {
  const text = await textOf(request);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return null;
  }
  if (isDeeper(value, MOST_DEEP)) throw new Refusal(400, `The request is nested more than ${MOST_DEEP} levels deep.`);
  return value;
}
