import type { ErrorBody, WorkLine } from "@/server/http/handle";
import { COMMON } from "./words";

/** A question the server answered with a sentence instead. */
export class AskError extends Error {
  constructor(readonly body: ErrorBody["error"]) {
    super(body.sentence);
  }
}

const client = Math.random().toString(36).slice(2, 12);

/** Asks the server: GET without a body, POST with one. @throws AskError with what the server says is wrong */
export async function ask<T>(path: string, body?: unknown, options: { method?: string; signal?: AbortSignal } = {}): Promise<T> {
  const response = await askRaw(path, body, options);
  return (await response.json()) as T;
}

/** `work` names what is waited for, so that it can be asked meanwhile how far it is. */
type Asking = { method?: string; signal?: AbortSignal; work?: string };

export async function askRaw(path: string, body?: unknown, { method, signal, work }: Asking = {}): Promise<Response> {
  const response = await fetch(path, {
    method: method ?? (body === undefined ? "GET" : "POST"),
    headers: { "content-type": "application/json", "x-client": client, ...(work === undefined ? {} : { "x-work": work }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    ...(signal ? { signal } : {}),
  }).catch((error: unknown) => {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new AskError({ sentence: COMMON.serverSilent, code: "offline", problems: [] });
  });
  if (response.ok) return response;
  const told = (await response.json().catch(() => null)) as ErrorBody | null;
  throw new AskError(told?.error ?? { sentence: COMMON.serverResponded(response.status), code: "unforeseen", problems: [] });
}

/** Up to this size a digest is sent with a file: it takes the whole file in memory to make one. */
const MOST_DIGESTED = 256 * 1024 ** 2;

/** What is told of a file beside it, so that the server can see whether it arrived whole. */
async function describeFile(file: File): Promise<string> {
  const sent = new URLSearchParams({ name: file.name, bytes: String(file.size) });
  // Browsers make digests only where the address is a safe one.
  if (file.size <= MOST_DIGESTED && globalThis.crypto.subtle) {
    const digest = new Uint8Array(await crypto.subtle.digest("SHA-256", await file.arrayBuffer()));
    sent.set("sha256", [...digest].map((byte) => byte.toString(16).padStart(2, "0")).join(""));
  }
  return sent.toString();
}

/** Sends a file as it is. @throws AskError with what the server says is wrong */
export async function askFile<T>(path: string, file: File): Promise<T> {
  const response = await fetch(`${path}?${await describeFile(file)}`, { method: "POST", body: file, headers: { "x-client": client } }).catch(() => null);
  if (response?.ok) return (await response.json()) as T;
  const told = (await response?.json().catch(() => null)) as ErrorBody | null;
  throw new AskError(told?.error ?? { sentence: COMMON.uploadFailed, code: "offline", problems: [] });
}

/** Asks for long work, telling how far it is (0 to 1). @throws AskError with what the server says is wrong */
export async function askWork<T>(path: string, body: unknown, onProgress: (share: number) => void, signal?: AbortSignal): Promise<T> {
  const response = await askRaw(path, body, signal ? { signal } : {});
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const part = await reader?.read();
    const lines = (rest + (part?.value ?? "")).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) {
      const said = JSON.parse(line) as WorkLine<T>;
      if ("progress" in said) onProgress(said.progress);
      else if ("error" in said) throw new AskError(said.error);
      else return said.result;
    }
    if (!part || part.done) throw new AskError({ sentence: COMMON.serverStopped, code: "offline", problems: [] });
  }
}

/** How often it is asked how far a file is. */
const TOLD_MS = 700;

/** Fetches a file the server makes and hands it to the browser to save. @param told how many rows or pages are done meanwhile */
export async function download(path: string, body: unknown, { signal, told }: { signal?: AbortSignal; told?: (done: number) => void } = {}): Promise<void> {
  const work = Math.random().toString(36).slice(2, 14);
  const timer = setInterval(() => {
    void ask<{ done: number | null }>(`/api/progress?work=${work}`).then(
      ({ done }) => done !== null && told?.(done),
      () => undefined,
    );
  }, TOLD_MS);
  try {
    await saveFile(await askRaw(path, body, { work, ...(signal ? { signal } : {}) }));
  } finally {
    clearInterval(timer);
  }
}

/** Hands a file that has been answered to the browser to save. */
export async function saveFile(response: Response): Promise<void> {
  const name = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get("content-disposition") ?? "")?.[1];
  const url = URL.createObjectURL(await response.blob());
  const link = Object.assign(document.createElement("a"), { href: url, download: decodeURIComponent(name ?? "export") });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

export const sentenceOf = (error: unknown): string => (error instanceof Error ? error.message : COMMON.somethingWentWrong);

export const isAbort = (error: unknown): boolean =>
  (error instanceof DOMException && error.name === "AbortError") || (error instanceof AskError && error.body.code === "stopped");
